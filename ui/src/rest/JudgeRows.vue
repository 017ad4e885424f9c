<script setup lang="ts">
/** At most three questions of a moment, each answered with one tap. */
import { ref } from 'vue'
import type { Schemas } from '../api/client'

defineProps<{ asking: readonly Schemas['Question'][]; portions: readonly string[] }>()
const emit = defineEmits<{ tap: [event: Record<string, unknown>] }>()
/** Of which portion the answers are; empty: of all of it. */
const portion = ref('')
const ANSWERS = { yes: 'yes', partly: 'partly', no: 'no' } as const
</script>

<template>
  <div>
    <div
      v-for="q in asking"
      :key="q.ask + q.portion"
      class="row flex items-center gap-2 py-1"
      data-test="question"
    >
      <span class="min-w-0 flex-1 leading-tight">{{ q.message }}</span>
      <button
        v-for="(words, says) in ANSWERS"
        :key="says"
        type="button"
        class="key min-h-12! min-w-14"
        @click="
          emit('tap', { kind: 'answer', at: q.at, ask: q.ask, says, portion: q.portion || portion || null })
        "
      >
        {{ words }}
      </button>
    </div>
    <label v-if="portions.length > 1" class="note flex items-baseline gap-2 pt-1"
      >judged of
      <select v-model="portion" class="field">
        <option value="">all of it</option>
        <option v-for="p in portions" :key="p" :value="p">{{ p }}</option>
      </select>
    </label>
  </div>
</template>
