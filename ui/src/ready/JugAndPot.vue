<script setup lang="ts">
/** Jug and pot on their way to one another: when each was made, what a thermometer read, and when they can meet. */
import { computed, ref } from 'vue'
import { fault, type Schemas } from '../api/client'
import ReadButton from '../bench/ReadButton.vue'
import { clock } from '../support/format'
import { inField, ownUnit, readNumber, warmer, warmth } from '../support/quantity'
import type { ReadyHandle } from './useReady'

type Vessel = 'jug' | 'pot'
/** `only` one of the two, where the hands are at that one. */
const props = defineProps<{
  view: Schemas['ReadyView']
  ready: ReadyHandle
  only?: Schemas['ReadyStage']['hot']
}>()
const { act, faults, minute } = props.ready
const hot = computed(() =>
  [
    {
      what: 'melted' as const,
      vessel: 'pot' as const,
      words: 'Fats are melted',
      at: props.view.state.melted,
    },
    {
      what: 'mixed' as const,
      vessel: 'jug' as const,
      words: props.view.meets.lye,
      at: props.view.state.mixed,
    },
  ].filter((h) => !props.only || h.what === props.only),
)
const typed = ref({ jug: '', pot: '' })
async function reading(vessel: Vessel) {
  const celsius = readNumber(typed.value[vessel], '°C')
  if (celsius === null) faults.value = [fault(`/${vessel}`, 'Degrees are a number.')]
  else if (await act({ kind: 'reading', vessel, celsius })) typed.value[vessel] = ''
  else faults.value = faults.value.map((f) => ({ ...f, pointer: `/${vessel}` }))
}
/** The one sentence, and the figure that runs. */
const count = computed(() => {
  const m = props.view.meets
  if (!m || m.opens === null || m.closes === null) return null
  if (minute.value < m.opens)
    return { figure: clock(m.opens - minute.value), words: 'until jug and pot can meet' }
  if (minute.value <= m.closes)
    return { figure: clock(m.closes - minute.value), words: 'left: they can meet now' }
  return { figure: clock(minute.value - m.closes), words: 'past it: warm one up' }
})
const last = (vessel: Vessel) => props.view.state[vessel].at(-1)
/** What is wanted, as it stands. */
const kept = computed(() => ({
  kind: 'wanted' as const,
  band: props.view.state.band,
  lye: props.view.state.lye,
  gap: props.view.state.gap,
}))
type Ends = Record<'low' | 'high', string>
/** Temperatures of one's own for either vessel, while they are typed. */
const own = ref<Record<Vessel, Ends> | null>(null)
function asked(): Record<Vessel, Ends> {
  const ends = (b: { low: number; high: number }) => ({
    low: inField(b.low, '°C', 0),
    high: inField(b.high, '°C', 0),
  })
  return { jug: ends(props.view.meets.jug_band), pot: ends(props.view.meets.pot_band) }
}
/** What is said of the temperatures that were typed: of the fats (band), or of the lye. */
const faulty = computed(() => faults.value.filter((f) => ['/band', '/lye'].includes(f.pointer)))
const wrong = (v: Vessel) => faulty.value.some((f) => f.pointer === (v === 'pot' ? '/band' : '/lye'))
async function want() {
  const typed = own.value
  if (!typed) return
  const [low, high, from, to] = [typed.pot.low, typed.pot.high, typed.jug.low, typed.jug.high].map((t) =>
    readNumber(t, '°C'),
  )
  if (low == null || high == null) faults.value = [fault('/band', 'Degrees are a number.')]
  else if (from == null || to == null) faults.value = [fault('/lye', 'Degrees are a number.')]
  else if (await act({ ...kept.value, band: { low, high }, lye: { low: from, high: to } })) own.value = null
  else faults.value = faults.value.map((f) => ({ ...f, pointer: f.pointer.replace(/^\/act/, '') }))
}
async function asRecipe() {
  if (await act({ ...kept.value, band: null, lye: null })) own.value = null
}
/** Is it said beside the field of a vessel? */
const at = (vessel: Vessel) => faults.value.filter((f) => f.pointer === `/${vessel}`)
</script>

<template>
  <section aria-label="Jug and pot" class="border-t border-slab pt-2">
    <p v-if="count && !only" class="flex flex-wrap items-baseline gap-3">
      <b class="fig text-5xl leading-none" role="timer">{{ count.figure }}</b>
      <span class="text-lg font-bold">{{ count.words }}</span>
    </p>
    <p v-if="!only" class="pt-1 text-mist">
      {{ view.meets.message }}
      <template v-if="view.meets.combined !== null">
        Put together they make about {{ warmth(view.meets.combined) }}.
      </template>
    </p>
    <div
      v-for="h in hot"
      :key="h.what"
      class="grid grid-cols-[minmax(0,1fr)_5.5rem_auto_auto] items-center gap-2 pt-2"
    >
      <button
        type="button"
        class="bench-key flex-col! gap-0!"
        :class="h.at !== null && h.at !== undefined ? 'bg-steel!' : ''"
        :aria-pressed="h.at !== null && h.at !== undefined"
        @click="act({ kind: 'hot', what: h.what, on: h.at === null || h.at === undefined })"
      >
        <span>{{ h.words }}</span>
        <span v-if="h.at !== null && h.at !== undefined" class="text-sm font-normal text-mist">
          {{ clock(minute - h.at) }} ago<template v-if="view.meets[h.vessel] !== null"
            >, about {{ warmth(view.meets[h.vessel] ?? 0) }}</template
          >
        </span>
      </button>
      <input
        v-model="typed[h.vessel]"
        class="fig min-h-16 w-full min-w-0 rounded-lg bg-slab text-center text-2xl font-bold"
        inputmode="decimal"
        :placeholder="last(h.vessel) ? inField(last(h.vessel)?.celsius ?? 0, '°C', 1) : ownUnit('°C')"
        :aria-label="`Reading of the ${h.vessel === 'jug' ? 'lye jug' : 'fat pot'}, ${ownUnit('°C')}`"
        :aria-invalid="at(h.vessel).length > 0"
        @keydown.enter="reading(h.vessel)"
      />
      <ReadButton kind="thermometer" @read="(r) => (typed[h.vessel] = inField(r, '°C', 1))" />
      <button type="button" class="bench-key px-4" @click="reading(h.vessel)">log</button>
      <p v-for="f in at(h.vessel)" :key="f.message" class="col-span-4 text-blush" role="alert">
        {{ f.message }}
      </p>
    </div>
    <p v-if="!only" class="flex flex-wrap items-center gap-2 pt-2 text-sm text-mist">
      wanted: {{ view.meets.wanted }}
      <button
        type="button"
        class="min-h-8 rounded border border-seam px-2"
        :aria-expanded="!!own"
        @click="own = own ? null : asked()"
      >
        other temperatures
      </button>
      <button
        v-for="[gap, words] in !view.meets.gaps
          ? []
          : ([
              [3, `within ${warmer(3)}`],
              [6, `within ${warmer(6)}`],
              [100, 'any gap'],
            ] as const)"
        :key="gap"
        type="button"
        class="min-h-8 rounded border border-seam px-2"
        :class="view.state.gap === gap ? 'bg-bone text-ink' : ''"
        :aria-pressed="view.state.gap === gap"
        @click="act({ ...kept, gap })"
      >
        {{ words }}
      </button>
    </p>
    <form v-if="own && !only" class="flex flex-wrap items-center gap-2 pt-2 text-sm" @submit.prevent="want()">
      <span v-for="v in ['pot', 'jug'] as const" :key="v" class="flex items-center gap-2">
        <span class="text-mist">{{ v === 'pot' ? 'fats' : 'lye' }}</span>
        <template v-for="end in ['low', 'high'] as const" :key="end">
          <span v-if="end === 'high'" class="text-mist">to</span>
          <input
            v-model="own[v][end]"
            class="fig min-h-11 w-16 rounded bg-slab text-center font-bold"
            inputmode="decimal"
            :aria-label="`${v === 'pot' ? 'Fats' : 'Lye'} ${end === 'low' ? 'from' : 'to'}, ${ownUnit('°C')}`"
            :aria-invalid="wrong(v)"
          />
        </template>
      </span>
      <span class="text-mist">{{ ownUnit('°C') }}</span>
      <button type="submit" class="min-h-11 rounded border border-seam px-3">Set</button>
      <button type="button" class="min-h-11 rounded border border-seam px-3" @click="asRecipe()">
        As the recipe says
      </button>
      <span v-for="f in faulty" :key="f.message" class="w-full text-blush" role="alert">{{ f.message }}</span>
    </form>
  </section>
</template>
