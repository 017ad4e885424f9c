<script setup lang="ts">
/** A reading typed, nudged with gloves on, or taken from a thermometer. */
import { inField, ownUnit, readNumber, toOwn, warmth } from '../support/quantity'
import { ref, watch } from 'vue'
import BenchDialog from './BenchDialog.vue'
import ReadButton from './ReadButton.vue'

const props = defineProps<{ open: boolean; celsius: number }>()
const emit = defineEmits<{ close: []; read: [celsius: number] }>()

const text = ref('')
const message = ref('')
watch(
  () => props.open,
  (open) => {
    if (!open) return
    text.value = inField(props.celsius, '°C', 0)
    message.value = ''
  },
)
const value = () => readNumber(text.value, '°C') ?? NaN
const nudge = (by: number) =>
  (text.value = String(Math.round(toOwn(Number.isNaN(value()) ? props.celsius : value(), '°C') + by)))
function done() {
  const celsius = value()
  if (Number.isNaN(celsius)) message.value = 'This is not a number.'
  else if (celsius < -5 || celsius > 110)
    message.value = `A reading lies between ${warmth(-5)} and ${warmth(110)}.`
  else emit('read', celsius)
}
</script>

<template>
  <BenchDialog :calm="false" :open="open" title="Temperature of the batter" @close="emit('close')">
    <form @submit.prevent="done">
      <div class="grid grid-cols-[4.5rem_1fr_4.5rem_auto] items-center gap-3">
        <button type="button" class="bench-key text-3xl" aria-label="One degree less" @click="nudge(-1)">
          −
        </button>
        <input
          v-model="text"
          class="fig min-h-16 w-full rounded-lg bg-slate text-center text-4xl font-bold"
          inputmode="decimal"
          aria-label="Degrees Celsius"
          :aria-invalid="message !== ''"
        />
        <button type="button" class="bench-key text-3xl" aria-label="One degree more" @click="nudge(1)">
          +
        </button>
        <ReadButton kind="thermometer" @read="(r) => (text = inField(r, '°C', 1))" />
      </div>
      <p v-if="message" class="pt-2 text-blush" role="alert">{{ message }}</p>
      <button type="submit" class="bench-main mt-3 w-full">Log {{ ownUnit('°C') }}</button>
    </form>
  </BenchDialog>
</template>
