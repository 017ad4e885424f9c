<script setup lang="ts">
/** A reading typed or nudged with gloves on. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { ref, watch } from 'vue'

const props = defineProps<{ open: boolean; celsius: number }>()
const emit = defineEmits<{ close: []; read: [celsius: number] }>()

const text = ref('')
const says = ref('')
watch(
  () => props.open,
  (open) => {
    if (!open) return
    text.value = props.celsius.toFixed(0)
    says.value = ''
  },
)
const value = () =>
  /^-?\d+([.,]\d+)?$/.test(text.value.trim()) ? Number(text.value.trim().replace(',', '.')) : NaN
const nudge = (by: number) => (text.value = String(Math.round((value() || props.celsius) + by)))
function done() {
  const celsius = value()
  if (Number.isNaN(celsius)) says.value = 'This is not a number.'
  else if (celsius < -5 || celsius > 110) says.value = 'A reading lies between −5 and 110 °C.'
  else emit('read', celsius)
}
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-black/60" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="w-full max-w-md rounded-xl bg-slab p-5 text-bone">
        <DialogTitle class="text-xl font-bold">Temperature of the batter</DialogTitle>
        <form class="pt-4" @submit.prevent="done">
          <div class="grid grid-cols-[5rem_1fr_5rem] items-center gap-3">
            <button type="button" class="bench-key text-3xl" aria-label="One degree less" @click="nudge(-1)">
              −
            </button>
            <input
              v-model="text"
              class="fig min-h-16 w-full rounded-lg bg-slate text-center text-4xl font-bold"
              inputmode="decimal"
              aria-label="Degrees Celsius"
              :aria-invalid="says !== ''"
            />
            <button type="button" class="bench-key text-3xl" aria-label="One degree more" @click="nudge(1)">
              +
            </button>
          </div>
          <p v-if="says" class="pt-2 text-[#ffb4a8]" role="alert">{{ says }}</p>
          <div class="grid grid-cols-2 gap-3 pt-4">
            <button type="button" class="bench-key" @click="emit('close')">Cancel</button>
            <button type="submit" class="bench-main">Log °C</button>
          </div>
        </form>
      </DialogPanel>
    </div>
  </Dialog>
</template>
