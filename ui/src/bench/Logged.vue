<script setup lang="ts">
/** Everything logged, each to be taken back; and what was forgotten, written in at its own minute. */
import { computed, ref } from 'vue'
import type { PourEvent, PourView } from '../api/client'
import { clock } from '../support/format'
import EventRow from './EventRow.vue'
import { eventOf, type Row } from './events'

const props = defineProps<{ view: PourView }>()
const portions = computed(() => props.view.recipe.design.portions.map((p) => p.name))
const emit = defineEmits<{ log: [event: PourEvent]; takeBack: [id: string] }>()
const row = ref<Row>({ minute: '', what: 'light', portion: '', value: '' })
const message = ref('')
function write() {
  const event = eventOf(row.value)
  message.value = typeof event === 'string' ? event : ''
  if (typeof event === 'string') return
  emit('log', event)
  row.value = { ...row.value, minute: '' }
}
</script>

<template>
  <div>
    <ol class="columns-2 gap-8 pt-1 text-mist max-sm:columns-1 md:columns-3">
      <li
        v-for="e in view.events"
        :key="e.event.id"
        class="flex break-inside-avoid items-baseline gap-2 py-0.5"
      >
        <span class="fig">{{ clock(e.event.minute) }}</span>
        <span class="min-w-0 truncate text-bone" :title="e.label">{{ e.label }}</span>
        <button
          type="button"
          class="take-out shrink-0 text-mist!"
          :aria-label="`Take back ${e.label} at ${clock(e.event.minute)}`"
          @click="emit('takeBack', e.event.id)"
        >
          ×
        </button>
      </li>
    </ol>
    <form class="flex flex-wrap items-baseline gap-3 pt-2" @submit.prevent="write">
      <span class="text-mist">Forgotten at the bench:</span>
      <EventRow
        v-model="row"
        :portions="portions"
        :steps="view.forecast.steps.filter((s) => s.weight > 0)"
        :message="message"
        dark
      />
      <button type="submit" class="bench-key min-h-11! px-4">Write it in</button>
    </form>
  </div>
</template>
