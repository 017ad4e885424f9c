<script setup lang="ts">
/** Before the lye meets the fats: everything in the order of work to be ticked, and jug and pot on their way. */
import { inField, ownUnit, readNumber, warmer, warmth } from '../support/quantity'
import { computed, onBeforeUnmount, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { RouterLink, useRouter } from 'vue-router'
import { api, Refused, take, type Schemas } from '../api/client'
import { useRefresh } from '../api/queries'
import BenchDialog from '../bench/BenchDialog.vue'
import FirstAid from '../bench/FirstAid.vue'
import ReadButton from '../bench/ReadButton.vue'
import { useCues } from '../bench/useCues'
import { clock } from '../support/format'
import { onlyBench } from '../support/me'
import Swatch from '../support/Swatch.vue'

type Act = Schemas['ReadyTap']['act']
type Item = Schemas['ReadyItem']
const props = defineProps<{ id: string }>()
const router = useRouter()
const refresh = useRefresh()
const client = useQueryClient()
const LOOK_EVERY = 8000 // ms, so that another device's ticks are seen
const path = { recipe_id: props.id }

const view = ref<Schemas['ReadyView'] | null>(null)
const message = ref('')
const faults = ref<{ pointer: string; message: string }[]>([])
const anchor = ref({ minute: 0, run: performance.now() })
const tick = ref(performance.now())
const minute = computed(() => anchor.value.minute + (tick.value - anchor.value.run) / 60000)
function show(next: Schemas['ReadyView']) {
  view.value = next
  anchor.value = { minute: next.minute, run: performance.now() }
  tick.value = performance.now()
  message.value = ''
}
function failed(error: unknown) {
  if (error instanceof Refused && error.problem.errors.length) faults.value = error.problem.errors
  else message.value = `${(error as Error).message} What you tapped last is not kept: tap it again.`
}
async function look() {
  try {
    show(await take(api.GET('/api/recipes/{recipe_id}/ready', { params: { path } })))
  } catch (error) {
    if (view.value) return
    if (error instanceof Refused) failed(error)
    else message.value = (error as Error).message
  }
}
const going = ref(0) // acts on their way; a look that came between them would show an older state
async function act(what: Act): Promise<boolean> {
  faults.value = []
  going.value++
  try {
    const next = await take(
      api.POST('/api/recipes/{recipe_id}/ready', { params: { path }, body: { act: what } }),
    )
    if (going.value === 1) show(next)
    return true
  } catch (error) {
    failed(error)
    return false
  } finally {
    going.value--
  }
}
const timer = window.setInterval(() => (tick.value = performance.now()), 500)
const looker = window.setInterval(() => {
  if (!going.value && document.visibilityState === 'visible') void look()
}, LOOK_EVERY)
onBeforeUnmount(() => {
  clearInterval(timer)
  clearInterval(looker)
})
void look()

const open = computed(() => view.value?.parts.flatMap((p) => p.items).filter((i) => !i.ticked).length ?? 0)
/** A tick says what was read here: should the recipe be another by then, the server knows which was weighed. */
const tap = (i: Item) =>
  act({ kind: 'tick', key: i.key, on: !i.ticked, grams: i.reading, message: i.message, line: i.line })
const follow = ref(false)
async function followWeights() {
  faults.value = []
  try {
    show(await take(api.POST('/api/recipes/{recipe_id}/ready/follow', { params: { path } })))
    void client.invalidateQueries({ queryKey: ['recipe', props.id] })
  } catch (error) {
    failed(error)
  } finally {
    follow.value = false
  }
}
const cues = useCues(
  computed(() => view.value?.cues ?? []),
  minute,
  computed(() => view.value !== null),
)
const hot = computed(() => [
  { what: 'melted' as const, vessel: 'pot' as const, words: 'Fats are melted', at: view.value?.state.melted },
  { what: 'mixed' as const, vessel: 'jug' as const, words: 'Lye is mixed', at: view.value?.state.mixed },
])
const typed = ref({ jug: '', pot: '' })
async function reading(vessel: 'jug' | 'pot') {
  const celsius = readNumber(typed.value[vessel], '°C')
  if (celsius === null) faults.value = [{ pointer: `/${vessel}`, message: 'Degrees are a number.' }]
  else if (await act({ kind: 'reading', vessel, celsius })) typed.value[vessel] = ''
  else faults.value = faults.value.map((f) => ({ ...f, pointer: `/${vessel}` }))
}
/** The one sentence, and the figure that runs. */
const count = computed(() => {
  const m = view.value?.meets
  if (!m || m.opens === null || m.closes === null) return null
  if (minute.value < m.opens)
    return { figure: clock(m.opens - minute.value), words: 'until jug and pot can meet' }
  if (minute.value <= m.closes)
    return { figure: clock(m.closes - minute.value), words: 'left: they can meet now' }
  return { figure: clock(minute.value - m.closes), words: 'past it: warm one up' }
})
const last = (vessel: 'jug' | 'pot') => view.value?.state[vessel].at(-1)

const HEED = { heeded: 'heed it', aside: 'set aside' } as const
const starting = ref(false)
/** Lye lies weighed for another weight: asked before the clock starts. */
const unsure = ref<string[]>([])
async function start(sure = false) {
  starting.value = true
  faults.value = []
  try {
    const pour = await take(api.POST('/api/pours', { body: { recipe_id: props.id, sure } }))
    void client.invalidateQueries({ queryKey: ['recipe', props.id] })
    await refresh('pours', 'recipes')
    await router.push(`/pours/${pour.id}`)
  } catch (error) {
    unsure.value =
      error instanceof Refused && error.problem.sure ? error.problem.errors.map((e) => e.message) : []
    if (!unsure.value.length) failed(error)
  } finally {
    starting.value = false
  }
}
</script>

<template>
  <div class="bench min-h-screen bg-slate text-bone">
    <div class="mx-auto max-w-7xl px-5 pt-2 pb-4 max-sm:px-3">
      <div class="flex items-center gap-4 text-sm text-mist">
        <RouterLink :to="onlyBench() ? '/' : `/recipes/${id}`" class="whitespace-nowrap underline">{{
          onlyBench() ? 'Back' : 'Back to the recipe'
        }}</RouterLink>
        <h1 class="min-w-0 truncate font-semibold text-bone">{{ view?.name ?? 'Ready check' }}</h1>
        <span v-if="cues.message.value" class="text-base font-bold text-honey" role="status">{{
          cues.message.value
        }}</span>
        <span class="ml-auto"><FirstAid v-if="view" :aid="view.aid" /></span>
        <button type="button" class="min-h-6 whitespace-nowrap underline" @click="cues.toggle">
          {{ cues.on.value ? 'sound and buzz on' : 'silent' }}
        </button>
      </div>
      <p v-if="message" class="py-2 font-semibold text-blush" role="alert">{{ message }}</p>
      <p
        v-for="f in faults.filter((x) => x.pointer !== '/jug' && x.pointer !== '/pot')"
        :key="f.message"
        class="py-2 font-semibold text-blush"
        role="alert"
      >
        {{ f.message }}
      </p>
      <p v-if="!view && !message && !faults.length" class="py-10 text-lg" role="status">
        Opening the ready check …
      </p>
      <div
        v-if="view"
        class="grid items-start gap-x-8 gap-y-4 pt-2 md:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]"
      >
        <div class="max-md:order-last">
          <section v-for="part in view.parts" :key="part.title" class="border-t border-slab py-2">
            <h2 class="text-lg font-bold">{{ part.title }}</h2>
            <p v-if="part.does" class="text-sm text-mist">{{ part.does }}</p>
            <p v-for="c in part.cautions" :key="c" class="font-semibold text-blush">{{ c }}</p>
            <div class="grid gap-1.5 pt-1.5 lg:grid-cols-2">
              <button
                v-for="item in part.items"
                :key="item.key"
                type="button"
                role="checkbox"
                :aria-checked="item.ticked"
                class="flex min-h-12 items-center gap-3 rounded-lg px-3 text-left leading-tight"
                :class="item.ticked ? 'bg-steel text-mist' : 'bg-well'"
                @click="tap(item)"
              >
                <svg viewBox="0 0 20 20" class="w-6 shrink-0" aria-hidden="true">
                  <rect
                    x="1.5"
                    y="1.5"
                    width="17"
                    height="17"
                    rx="3"
                    fill="none"
                    stroke="currentColor"
                    stroke-width="2"
                  />
                  <path
                    v-if="item.ticked"
                    d="M5 10.5l3.5 3.5L15.5 6"
                    fill="none"
                    stroke="currentColor"
                    stroke-width="2.6"
                  />
                </svg>
                <Swatch v-if="item.tint" :tint="item.tint" class="w-5! stroke-bone" />
                <span class="min-w-0 flex-1 py-1">{{ item.message }}</span>
                <b v-if="item.shown" class="whitespace-nowrap text-right"
                  >{{ item.shown
                  }}<span v-if="item.also" class="block text-sm font-normal">{{ item.also }}</span></b
                >
              </button>
            </div>
          </section>
        </div>

        <div class="flex flex-col gap-3 md:sticky md:top-2">
          <section
            v-if="view.reweigh.length"
            aria-label="Weighed for another weight"
            class="rounded-lg border-2 border-blush p-3"
            role="alert"
            data-test="reweigh"
          >
            <h2 class="text-lg font-bold text-blush">Weighed for another weight</h2>
            <div v-for="(r, n) in view.reweigh" :key="r.key" class="flex items-center gap-3 py-1">
              <p class="min-w-0 flex-1 leading-snug" :class="r.lye ? 'font-bold' : ''">
                {{ r.message }}
                <b v-if="r.does !== view.reweigh[n + 1]?.does" class="text-honey">{{ r.does }}</b>
              </p>
              <button
                type="button"
                class="bench-key min-h-11! px-3 text-base!"
                @click="act({ kind: 'tick', key: r.key, on: false, grams: null, message: '', line: '' })"
              >
                put away
              </button>
            </div>
            <button v-if="!onlyBench()" type="button" class="bench-key mt-1 w-full" @click="follow = true">
              Let the recipe follow what I weighed
            </button>
          </section>
          <button
            v-if="!view.running"
            type="button"
            class="bench-main min-h-20! text-2xl!"
            :disabled="starting"
            @click="start()"
          >
            Lye meets fats: start the clock
          </button>
          <RouterLink v-else :to="`/pours/${view.running}`" class="bench-main min-h-20! text-2xl!">
            To the running pour
          </RouterLink>
          <p class="text-mist" role="status">
            {{ open ? `${open} to tick; nothing is forced.` : 'All stands ready.' }} Local rules and those who
            know your lye come first.
          </p>

          <section aria-label="Jug and pot" class="border-t border-slab pt-2">
            <p v-if="count" class="flex flex-wrap items-baseline gap-3">
              <b class="fig text-5xl leading-none" role="timer">{{ count.figure }}</b>
              <span class="text-lg font-bold">{{ count.words }}</span>
            </p>
            <p class="pt-1 text-mist">
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
                :aria-invalid="faults.some((f) => f.pointer === `/${h.vessel}`)"
                @keydown.enter="reading(h.vessel)"
              />
              <ReadButton kind="thermometer" @read="(r) => (typed[h.vessel] = inField(r, '°C', 1))" />
              <button type="button" class="bench-key px-4" @click="reading(h.vessel)">log</button>
              <p
                v-for="f in faults.filter((x) => x.pointer === `/${h.vessel}`)"
                :key="f.message"
                class="col-span-4 text-blush"
                role="alert"
              >
                {{ f.message }}
              </p>
            </div>
            <p class="flex flex-wrap items-center gap-2 pt-2 text-sm text-mist">
              wanted at {{ warmth(view.band.low) }} to {{ warmth(view.band.high) }}
              <button
                v-for="[gap, words] in [
                  [3, `within ${warmer(3)}`],
                  [6, `within ${warmer(6)}`],
                  [100, 'any gap'],
                ] as const"
                :key="gap"
                type="button"
                class="min-h-8 rounded border border-seam px-2"
                :class="view.state.gap === gap ? 'bg-bone text-ink' : ''"
                :aria-pressed="view.state.gap === gap"
                @click="act({ kind: 'wanted', band: view.state.band, gap })"
              >
                {{ words }}
              </button>
            </p>
          </section>

          <section
            v-if="view.before.length || view.noted.length"
            aria-label="Last time"
            class="border-t border-slab pt-2"
          >
            <h2 class="text-lg font-bold">Last time</h2>
            <div
              v-for="n in view.noted"
              :key="n.id"
              class="flex flex-wrap items-center gap-2 py-1"
              data-test="note"
            >
              <span class="min-w-52 flex-1 font-semibold text-honey"
                >{{ n.message }}
                <span class="block text-sm font-normal text-mist"
                  >noted about {{ n.of
                  }}<template v-if="n.met">, {{ n.heeded }} of {{ n.met }} heeded</template></span
                ></span
              >
              <button
                v-for="(words, how) in HEED"
                :key="how"
                type="button"
                class="bench-key min-h-12! px-3 text-base!"
                :class="n.how === how ? 'bg-bone! text-ink!' : ''"
                :aria-pressed="n.how === how"
                @click="act({ kind: 'note', note: n.id, how: n.how === how ? '' : how })"
              >
                {{ words }}
              </button>
            </div>
            <p v-for="b in view.before" :key="b.of" class="pt-0.5">
              <span class="text-mist">{{ b.of }}:</span> {{ b.message }}
            </p>
          </section>
        </div>
      </div>
    </div>
    <BenchDialog
      :open="unsure.length > 0"
      wide
      title="Is this the right lye?"
      leave="Not yet"
      @close="unsure = []"
    >
      <p v-for="u in unsure" :key="u" class="pb-2 text-lg leading-snug">{{ u }}</p>
      <button type="button" class="bench-key w-full" :disabled="starting" @click="start(true)">
        The jug was made anew: start the clock
      </button>
    </BenchDialog>
    <BenchDialog :open="follow" title="Let the recipe follow?" leave="No, weigh anew" @close="follow = false">
      <p class="pb-3 text-lg leading-snug">
        The recipe becomes what lies weighed, lye and fats as they are; everything else keeps its weight.
        Where that is too much lye it is not done.
      </p>
      <button type="button" class="bench-key w-full" @click="followWeights">Follow what I weighed</button>
    </BenchDialog>
  </div>
</template>
