<script setup lang="ts">
/** What else can be seen or done of a batch at rest, whenever it is. */
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import { day } from '../support/format'
import { readNumber } from '../support/quantity'

defineProps<{ view: Schemas['RestView'] }>()
const emit = defineEmits<{ tap: [event: Record<string, unknown>] }>()
const fault = ref('')
/** Poured onto, or under, another batch: from then on they are one block. */
function join(change: Event) {
  const other = (change.target as HTMLSelectElement).value
  if (other) emit('tap', { kind: 'join', other })
}
const by = ref('')
function sign() {
  emit('tap', { kind: 'sign', by: by.value.trim() })
  by.value = ''
}
const ph = ref('')
function strip() {
  const read = readNumber(ph.value)
  fault.value = ''
  if (read === null || read < 0 || read > 14) fault.value = 'pH runs from 0 to 14.'
  else {
    emit('tap', { kind: 'test', ph: read })
    ph.value = ''
  }
}
</script>

<template>
  <details class="pt-5">
    <summary class="cursor-pointer font-bold">Anything else seen or done</summary>
    <p class="max-w-3xl pt-1 text-sm" data-test="testing">{{ view.testing }}</p>
    <div class="flex flex-wrap gap-2 pt-2">
      <button
        v-for="s in view.now.others"
        :key="s.label"
        type="button"
        class="key min-h-11!"
        @click="emit('tap', s.event)"
      >
        {{ s.label }}
      </button>
      <label v-if="view.beside.length" class="flex items-baseline gap-2">
        <span>In one mould with</span>
        <select class="field" :value="''" @change="join">
          <option value="">no other batch</option>
          <option v-for="b in view.beside" :key="b.id" :value="b.id">
            {{ b.recipe }}, {{ day(b.started) }}
          </option>
        </select>
      </label>
      <form class="flex items-baseline gap-2" @submit.prevent="sign">
        <input v-model="by" class="field w-36" maxlength="80" placeholder="name" aria-label="Who signs" />
        <button type="submit" class="key min-h-11!" :disabled="!by.trim()">Sign the record</button>
      </form>
      <form class="flex items-baseline gap-2" @submit.prevent="strip">
        <input
          v-model="ph"
          class="field fig w-14 text-right"
          inputmode="decimal"
          placeholder="pH"
          aria-label="pH of a strip"
        />
        <button type="submit" class="key min-h-11!">Note the pH</button>
        <span v-if="fault" class="message" role="alert">{{ fault }}</span>
      </form>
    </div>
  </details>
</template>
