<script setup lang="ts">
/** The fragrance went in: as planned, so many grams, or not at all. */
import { inField, ownUnit, readNumber, weight } from '../support/quantity'
import { computed, ref, watch } from 'vue'
import BenchDialog from './BenchDialog.vue'
import ReadButton from './ReadButton.vue'

const props = defineProps<{
  open: boolean
  where: string
  /** The portion in hand, and those that wait for their fragrance, in the plan's order. */
  portion: string | null
  waits: readonly string[]
  planned: (portion: string | null) => number | null
  noted: readonly string[]
}>()
const emit = defineEmits<{
  close: []
  scent: [portion: string | null, grams: number | null]
  part: [portion: string | null, share: number]
  unscented: [portion: string | null]
}>()
/** Odd doses as a gloved hand tells them: parts of the full dose. */
const PARTS = [
  { words: 'half of it', share: 0.5 },
  { words: 'a bit less', share: 0.75 },
  { words: 'a bit more', share: 1.25 },
]
const text = ref('')
/** Whose cup it is. The portion in hand, but where that has its fragrance and others wait it is asked. */
const who = ref<string | null | undefined>(null)
const offered = computed(() => [
  ...new Set([...(props.portion === null ? [] : [props.portion]), ...props.waits]),
])
const message = ref('')
watch(
  () => props.open,
  () => {
    const { portion, waits } = props
    who.value = portion === null || waits.includes(portion) || !waits.length ? portion : undefined
    text.value = ''
    message.value = ''
  },
)
function weighed() {
  const grams = readNumber(text.value, 'g')
  if (grams === null || grams < 0) message.value = 'A weight is a number.'
  else if (who.value !== undefined) emit('scent', who.value, grams)
}
</script>

<template>
  <BenchDialog
    :calm="false"
    :open="open"
    :title="who === undefined ? 'Scent in which portion?' : `Scent in ${who ?? where}`"
    @close="emit('close')"
  >
    <div
      v-if="portion !== null && offered.length > 1"
      class="flex flex-wrap gap-2 pb-3"
      role="group"
      aria-label="Portion"
    >
      <button
        v-for="name in offered"
        :key="name"
        type="button"
        class="bench-key px-4"
        :class="name === who ? 'bg-bone! text-ink!' : ''"
        :aria-pressed="name === who"
        @click="who = name"
      >
        {{ name }}
      </button>
    </div>
    <fieldset v-if="who !== undefined" class="contents">
      <p v-for="n in noted" :key="n" class="pb-2 font-semibold text-honey">Noted before: {{ n }}</p>
      <button type="button" class="bench-main w-full" @click="emit('scent', who, null)">
        As planned<template v-if="planned(who)">, {{ weight(planned(who) ?? 0) }}</template>
      </button>
      <div class="grid grid-cols-3 gap-2 pt-3">
        <button
          v-for="p in PARTS"
          :key="p.words"
          type="button"
          class="bench-key"
          @click="emit('part', who, p.share)"
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
      <button type="button" class="bench-key mt-3 w-full" @click="emit('unscented', who)">
        It stays out
      </button>
    </fieldset>
  </BenchDialog>
</template>
