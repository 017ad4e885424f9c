<script setup lang="ts">
/** Whether the simulated thermometer and scale stand in for real ones. */
import { api, take } from '../api/client'
import { useWrite } from '../api/writes'
import { forgetInstruments, useInstruments } from './useInstruments'

const there = useInstruments()
const { run, trouble } = useWrite(
  (simulated: boolean) => take(api.PUT('/api/instruments', { body: { simulated } })),
  { done: (made) => void Object.assign(there, made) },
)
const set = async (simulated: boolean) => (await run(simulated)) || forgetInstruments()
</script>

<template>
  <section aria-labelledby="instruments">
    <div class="ledger-head"><h2 id="instruments">Thermometer and scale</h2></div>
    <label class="row flex items-center gap-2 py-1.5">
      <input
        type="checkbox"
        class="size-4 accent-ink"
        :checked="there.thermometer"
        @change="set(($event.target as HTMLInputElement).checked)"
      />
      simulated ones, to try how a reading fills the field in hand
    </label>
    <p class="note pt-1">Keying a reading in by hand is always as good. No real instrument is driven yet.</p>
    <p v-if="trouble" class="message" role="alert">{{ trouble }}</p>
  </section>
</template>
