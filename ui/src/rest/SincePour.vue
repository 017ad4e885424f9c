<script setup lang="ts">
/** What was tapped since the pour, each with its way back, and the papers of it. */
import type { Schemas } from '../api/client'
import { onlyBench } from '../support/me'
import { nextTick, reactive, ref } from 'vue'
import { asked, printed } from '../support/paper'
import { saveFrom } from '../support/save'
import { moment } from '../support/when'

const props = defineProps<{ id: string; view: Schemas['RestView']; now: Date }>()
const emit = defineEmits<{ undo: [id: string] }>()
const labels = reactive({ open: false, size: 'medium', names: 'became', refused: '', busy: false })
const form = ref<HTMLElement>()
async function showLabels() {
  labels.open = !labels.open
  await nextTick()
  form.value?.scrollIntoView({ block: 'nearest' })
}
async function printLabels() {
  labels.refused = ''
  labels.busy = true
  try {
    await saveFrom(`/api/pours/${props.id}/labels.pdf?size=${labels.size}&names=${labels.names}&${printed()}`)
  } catch (problem) {
    labels.refused = (problem as Error).message
  }
  labels.busy = false
}
const SIZES = { small: 'small, 24 a sheet', medium: 'medium, 12 a sheet', large: 'large, 6 a sheet' }
const NAMES = { became: 'what it became', went_in: 'what went in' }
const told = (minute: number) => moment(new Date(Date.parse(props.view.started) + minute * 60_000), props.now)
</script>

<template>
  <section class="pt-4" aria-labelledby="log">
    <div class="ledger-head">
      <h2 id="log">Since the pour</h2>
      <span class="ml-auto flex flex-wrap gap-x-4 gap-y-1 text-sm *:inline-block *:leading-6">
        <a v-if="!onlyBench()" :href="`/api/pours/${id}/record.pdf?${printed()}`" class="underline" download
          >Record of the batch</a
        >
        <button v-if="!onlyBench()" type="button" class="underline" @click="showLabels">Labels</button>
        <a :href="`/api/pours/${id}/rest.ics?${asked()}`" class="underline" download
          >Next touches as a calendar file</a
        >
      </span>
    </div>
    <div
      v-if="labels.open"
      ref="form"
      class="flex flex-wrap items-end gap-x-5 gap-y-2 border-l-4 border-stir bg-chalk px-4 py-3"
    >
      <template v-if="view.harm">
        <p class="message" role="alert">{{ view.harm }} They get no label for sale.</p>
      </template>
      <template v-else>
        <label class="flex flex-col">
          <span class="note">size</span>
          <select v-model="labels.size" class="field">
            <option v-for="(words, key) in SIZES" :key="key" :value="key">{{ words }}</option>
          </select>
        </label>
        <label class="flex flex-col">
          <span class="note">ingredients named as</span>
          <select v-model="labels.names" class="field">
            <option v-for="(words, key) in NAMES" :key="key" :value="key">{{ words }}</option>
          </select>
        </label>
        <button type="button" class="key" :disabled="labels.busy" @click="printLabels">
          Labels to print
        </button>
        <p v-if="labels.refused" class="message basis-full" role="alert">{{ labels.refused }}</p>
        <span class="note basis-full"
          >A draft: local rules decide what stands on it. Batch number, maker and best before are set in the
          Workshop.</span
        >
      </template>
    </div>
    <p v-if="!view.events.length" class="note pt-1">Nothing tapped yet.</p>
    <ol class="columns-2 gap-8 pt-1 max-sm:columns-1 lg:columns-3">
      <li v-for="e in view.events" :key="e.event.id" class="flex break-inside-avoid items-baseline gap-2">
        <span class="note w-28 shrink-0">{{ told(e.event.minute) }}</span>
        <span class="min-w-0 truncate" :title="e.label">{{ e.label }}</span>
        <button
          type="button"
          class="take-out shrink-0"
          :aria-label="`Take back ${e.label}`"
          @click="emit('undo', e.event.id)"
        >
          ×
        </button>
      </li>
    </ol>
  </section>
</template>
