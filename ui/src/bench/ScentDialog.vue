<script setup lang="ts">
/** The fragrance went in: as planned, so many grams, or not at all. */
import { inField, ownUnit, readNumber, weight } from '../support/quantity'
import { ref, watch } from 'vue'
import BenchDialog from './BenchDialog.vue'
import ReadButton from './ReadButton.vue'

const props = defineProps<{
  open: boolean
  where: string
  planned: number | null
  noted: readonly string[]
}>()
const emit = defineEmits<{
  close: []
  scent: [grams: number | null]
  part: [share: number]
  unscented: []
}>()
/** Odd doses as a gloved hand tells them: parts of the full dose. */
const PARTS = [
  { words: 'half of it', share: 0.5 },
  { words: 'a bit less', share: 0.75 },
  { words: 'a bit more', share: 1.25 },
]
const text = ref('')
const message = ref('')
watch(
  () => props.open,
  () => {
    text.value = ''
    message.value = ''
  },
)
function weighed() {
  const grams = readNumber(text.value, 'g')
  if (grams === null || grams < 0) message.value = 'A weight is a number.'
  else emit('scent', grams)
}
</script>

<template>
  <BenchDialog :calm="false" :open="open" :title="`Scent in ${where}`" @close="emit('close')">
    <p v-for="n in noted" :key="n" class="pb-2 font-semibold text-honey">Noted before: {{ n }}</p>
    <button type="button" class="bench-main w-full" @click="emit('scent', null)">
      As planned<template v-if="planned">, {{ weight(planned) }}</template>
    </button>
    <div class="grid grid-cols-3 gap-2 pt-3">
      <button
        v-for="p in PARTS"
        :key="p.words"
        type="button"
        class="bench-key"
        @click="emit('part', p.share)"
      >
        {{ p.words }}
      </button>
    </div>
    <form class="grid grid-cols-[1fr_auto_auto] items-center gap-3 pt-3" @submit.prevent="weighed">
      <input
        v-model="text"
        class="fig min-h-16 w-full rounded-lg bg-slate px-3 text-center text-3xl font-bold"
        inputmode="decimal"
        :placeholder="ownUnit('g')"
        aria-label="Grams of fragrance"
        :aria-invalid="message !== ''"
      />
      <ReadButton kind="scale" @read="(r) => (text = inField(r, 'g', 2))" />
      <button type="submit" class="bench-key px-5">Weighed so</button>
    </form>
    <p v-if="message" class="pt-2 text-blush" role="alert">{{ message }}</p>
    <button type="button" class="bench-key mt-3 w-full" @click="emit('unscented')">It stays out</button>
  </BenchDialog>
</template>
