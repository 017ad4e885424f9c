<script setup lang="ts">
/** What the scales show, and how much each can hold: every weight is told as they can show it. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { useWrite } from '../api/writes'
import { inField, ownUnit, readAgain } from '../support/quantity'
import { units } from '../support/units'

type Scale = Schemas['Scale']
const props = defineProps<{ scales: Schemas['Scales'] }>()
const client = useQueryClient()
const rows = ref<{ step: string; capacity: string; was: Scale | null }[]>([])
const DIGITS = { step: 4, capacity: 1 }
// What is typed and not yet kept stays, until the scales or their unit are others.
watch(
  () => JSON.stringify([props.scales, units.weight]),
  () =>
    (rows.value = props.scales.scales.map((s) => ({
      step: inField(s.step, 'g', DIGITS.step),
      capacity: inField(s.capacity, 'g', DIGITS.capacity),
      was: s,
    }))),
  { immediate: true },
)
const read = (typed: string, key: keyof Scale, was: Scale | null) =>
  readAgain(typed, was?.[key] ?? null, 'g', DIGITS[key]) ?? NaN
const { run, faults, busy, written } = useWrite(
  (scales: Scale[]) => take(api.PUT('/api/settings/scales', { body: { scales } })),
  { touches: ['shelf', 'starters'], done: (settings) => client.setQueryData(['settings'], settings) },
)
const keep = () =>
  run(
    rows.value.map(({ step, capacity, was }) => ({
      step: read(step, 'step', was),
      capacity: read(capacity, 'capacity', was),
    })),
  )
const at = (pointer: string) =>
  faults.value.filter((f) => f.pointer.startsWith(pointer)).map((f) => f.message)
const elsewhere = () => faults.value.filter((f) => !/^.scales.\d/.test(f.pointer)).map((f) => f.message)
const add = () =>
  rows.value.push({
    step: inField(0.01, 'g', DIGITS.step),
    capacity: inField(200, 'g', DIGITS.capacity),
    was: null,
  })
</script>

<template>
  <form @submit.prevent="keep">
    <ol>
      <li v-for="(s, i) in rows" :key="i" class="row flex flex-wrap items-center gap-x-2.5 py-1.5">
        <label>
          in steps of
          <input
            v-model="s.step"
            class="field fig w-14 text-right"
            inputmode="decimal"
            :aria-invalid="at(`/scales/${i}/step`).length > 0"
          />
          {{ ownUnit('g') }}
        </label>
        <label>
          up to
          <input
            v-model="s.capacity"
            class="field fig w-16 text-right"
            inputmode="decimal"
            :aria-invalid="at(`/scales/${i}/capacity`).length > 0"
          />
          {{ ownUnit('g') }}
        </label>
        <button
          v-if="rows.length > 1"
          type="button"
          class="take-out"
          :aria-label="`Take out scale ${i + 1}`"
          @click="rows.splice(i, 1)"
        >
          ×
        </button>
        <span v-for="message in at(`/scales/${i}`)" :key="message" class="message" role="alert">{{
          message
        }}</span>
      </li>
    </ol>
    <p v-for="message in elsewhere()" :key="message" class="message" role="alert">{{ message }}</p>
    <p class="flex flex-wrap items-center gap-4 pt-2">
      <button type="submit" class="key" :disabled="busy">Save scales</button>
      <button v-if="rows.length < 6" type="button" class="text-sm underline" @click="add">Add a scale</button>
      <span v-if="written" class="note" role="status">Saved: weights are shown so.</span>
    </p>
  </form>
</template>
