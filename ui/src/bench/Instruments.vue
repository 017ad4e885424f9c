<script setup lang="ts">
/** Whether the simulated thermometer and scale stand in for real ones. */
import { ref } from 'vue'
import { api, take } from '../api/client'
import { forgetInstruments, useInstruments } from './useInstruments'

const there = useInstruments()
const message = ref('')
async function set(simulated: boolean) {
  message.value = ''
  try {
    Object.assign(there, await take(api.PUT('/api/instruments', { body: { simulated } })))
  } catch (error) {
    forgetInstruments()
    message.value = (error as Error).message
  }
}
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
    <p v-if="message" class="message" role="alert">{{ message }}</p>
  </section>
</template>
