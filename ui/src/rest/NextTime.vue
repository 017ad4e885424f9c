<script setup lang="ts">
/** A note for next time, and what it is about: it returns wherever that is planned and poured again. */
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'

const props = defineProps<{ view: Schemas['RestView'] }>()
const emit = defineEmits<{ tap: [event: Record<string, unknown>]; takeBack: [id: string] }>()
const words = ref('')
const about = ref('recipe')
const notes = computed(() => props.view.events.flatMap((e) => (e.event.kind === 'next' ? [e.event] : [])))
const name = (id: string) => props.view.subjects.find((s) => s.id === id)?.name ?? id
function note() {
  if (!words.value.trim()) return
  emit('tap', { kind: 'next', says: words.value.trim(), about: about.value })
  words.value = ''
}
</script>

<template>
  <section aria-labelledby="next-time">
    <div class="ledger-head">
      <h2 id="next-time">Next time</h2>
      <span class="note">it comes back where it matters</span>
    </div>
    <form class="flex flex-wrap items-baseline gap-2 pt-2" @submit.prevent="note">
      <input
        v-model="words"
        class="field min-w-52 flex-1"
        maxlength="300"
        placeholder="what you would do otherwise"
        aria-label="What you would do otherwise next time"
      />
      <label class="flex items-baseline gap-1.5"
        ><span class="note">about</span>
        <select v-model="about" class="field max-w-44">
          <option v-for="s in view.subjects" :key="s.id" :value="s.id">{{ s.name }}</option>
        </select>
      </label>
      <button type="submit" class="key min-h-11!" :disabled="!words.trim()">Note it</button>
    </form>
    <ul>
      <li v-for="n in notes" :key="n.id" class="row flex items-baseline gap-2 py-1">
        <span class="min-w-0 flex-1"
          >{{ n.says }} <span class="note">about {{ name(n.about ?? 'recipe') }}</span></span
        >
        <button
          type="button"
          class="take-out"
          :aria-label="`Take back ${n.says}`"
          @click="emit('takeBack', n.id)"
        >
          ×
        </button>
      </li>
    </ul>
  </section>
</template>
