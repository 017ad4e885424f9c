<script setup lang="ts">
/** What now? One sentence and one big key; lanes to choose from; keys for wet gloves. Nothing here scrolls. */
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import AfterPour from '../bench/AfterPour.vue'
import BenchDialog from '../bench/BenchDialog.vue'
import BenchHead from '../bench/BenchHead.vue'
import BenchKeys, { type Ask, type Tool } from '../bench/BenchKeys.vue'
import BenchLanes from '../bench/BenchLanes.vue'
import Debrief from '../bench/Debrief.vue'
import Doubts from '../bench/Doubts.vue'
import FlagDialog from '../bench/FlagDialog.vue'
import HowLong from '../bench/HowLong.vue'
import LaneBar from '../bench/LaneBar.vue'
import Logged from '../bench/Logged.vue'
import MoreDialog from '../bench/MoreDialog.vue'
import Outcome from '../bench/Outcome.vue'
import RescueCard from '../bench/RescueCard.vue'
import ScentDialog from '../bench/ScentDialog.vue'
import TemperatureDialog from '../bench/TemperatureDialog.vue'
import { useCues } from '../bench/useCues'
import { usePour, type Tap } from '../bench/usePour'
import { useSights } from '../bench/useSights'
import { outbox } from '../keep/outbox'
import { STAGES, type Stage } from '../ribbon/batter'
import TraceRibbon from '../ribbon/TraceRibbon.vue'
import Trail from '../ribbon/Trail.vue'
import { clock } from '../support/format'
import CutFace from '../support/CutFace.vue'
import Swatch from '../support/Swatch.vue'
import { useWindow } from '../support/useWindow'

const props = withDefaults(defineProps<{ id: string; practice?: boolean }>(), { practice: false })
const pour = usePour(props.id, props.practice)
const { view, minute, running } = pour
const refused = computed(() =>
  props.practice ? [] : outbox.refused.value.filter((t) => t.pour === props.id),
)
const window_ = useWindow()
const narrow = computed(() => window_.width < 640)

const portion = ref<string | null>(null)
const ask = ref<Ask | 'log' | 'doubts' | 'why' | null>(null)
const working = ref<{ tool: Tool; from: number } | null>(null)

const portions = computed(() => view.value?.recipe.design.portions ?? [])
const standing = (kind: string) => pour.standing.value.some((e) => e.kind === kind)
const split = computed(
  () =>
    portions.value.length > 1 &&
    (view.value?.split !== null || standing('split') || view.value?.pouring !== null || apart.value),
)
/** Whether some portion is a batch of its own, with a lane to choose before anything is split. */
const apart = computed(() => portions.value.some((p) => p.batch))
const bench = computed(() => view.value?.bench)
const lane = computed(() => bench.value?.lanes.find((l) => l.portion === portion.value))
const where = computed(() => portion.value ?? (split.value ? 'all of it' : 'the pot'))
/** What was tapped last of it and is still on its way there; shown at once, as the tap is kept already. */
const tapped = computed(() => {
  const looks = pour.waiting.value.flatMap((t) => (t.event.kind === 'seen' ? [t.event] : []))
  const mine = looks.filter((e) => (e.portion ?? null) === portion.value || (e.portion ?? null) === null)
  const last = mine.at(-1)
  return last ? STAGES.indexOf(last.stage) + 1 : null
})
const level = computed(
  () =>
    tapped.value ??
    (lane.value ? lane.value.level : Math.min(...(bench.value?.lanes ?? []).map((l) => l.level))),
)
const seen = computed(() => {
  if (tapped.value !== null) return 'now'
  const at = lane.value ? lane.value.seen : bench.value?.lanes[0]?.seen
  return at === null || at === undefined
    ? ''
    : `${narrow.value ? '' : 'seen '}${clock(minute.value - at)} ago`
})
const hasScent = computed(() => (view.value?.recipe.scents.length ?? 0) > 0)
const scentSays = computed(() => {
  if (!hasScent.value) return null
  if (lane.value?.scent === 'in') return `in since ${clock(minute.value - (lane.value.scented ?? 0))}`
  return lane.value ? `${lane.value.grams.toFixed(1)} g planned` : 'as planned …'
})
const grams = computed(() =>
  lane.value
    ? lane.value.grams
    : (bench.value?.lanes.reduce((sum, l) => sum + (l.scent === 'none' ? 0 : l.grams), 0) ?? 0),
)

/** The next likely portion is chosen by itself, but never while a hand has just chosen another. */
const HANDS = 6000 // ms
let byHand = -Infinity
function choose(name: string | null) {
  byHand = performance.now()
  portion.value = name
}
watch(
  () => [bench.value?.choose, view.value?.advice.headline, split.value] as const,
  ([next], before) => {
    const known = portions.value.some((p) => p.name === portion.value)
    if (next === undefined || (known && performance.now() - byHand < HANDS)) return
    if (!known || !before || next !== before[0] || view.value?.advice.headline !== before[1])
      portion.value = next
  },
  { immediate: true },
)

watch(
  () => view.value?.doubts.length,
  (open) => {
    if (!open && ask.value === 'doubts') ask.value = null
  },
)

const keys = computed(() => (pour.offline.value ? [] : (bench.value?.keys ?? [])))
/** What can still be put down while nothing answers: advice stands still then, the batter does not. */
const DO = {
  split: 'Batter is split',
  pouring: 'Pouring now',
  ended: 'Mould is full',
} as const
const unanswered = computed(() => {
  const turns = (['split', 'pouring', 'ended'] as const).filter((kind) => !standing(kind))
  return portions.value.length > 1 ? turns : turns.filter((kind) => kind !== 'split')
})
function press(n: number) {
  const key = keys.value[n]
  // While a tap is on its way the advice is about to change: acting on the old one would do the wrong thing.
  if (key && running.value && !pour.waiting.value.length) pour.tap(key.event as Tap)
}
function stage(s: Stage) {
  byHand = performance.now() // the next look is likely at the same portion
  pour.tap({ kind: 'seen', portion: portion.value, stage: s, turned: false })
}

const ticking = ref(0)
let timer = 0
function workStart(tool: Tool) {
  if (working.value !== null || !running.value) return
  ask.value = null
  working.value = { tool, from: performance.now() }
  ticking.value = 0
  timer = window.setInterval(
    () => (ticking.value = (performance.now() - (working.value?.from ?? 0)) / 1000),
    500,
  )
}
function workStop() {
  if (working.value === null) return
  const { tool, from } = working.value
  const seconds = Math.max(1, Math.round((performance.now() - from) / 100) / 10) * (pour.speed() || 1)
  working.value = null
  clearInterval(timer)
  worked(tool, seconds, 'mix')
}
function worked(tool: Tool, seconds: number, purpose: 'mix' | 'thicken' | 'loosen') {
  ask.value = null
  byHand = performance.now()
  pour.tap({ kind: 'work', tool, portion: portion.value, seconds: Math.min(seconds, 1800), purpose })
}
const asked = (what: Ask) => (ask.value = what)
function done(what: Tap) {
  ask.value = null
  pour.tap(what)
}
function reopen() {
  const end = view.value?.events.find((e) => e.event.kind === 'ended')
  if (end) pour.takeBack(end.event.id)
}

function nextPortion(by: number) {
  if (!split.value) return
  const names = portions.value.map((p) => p.name)
  const at = portion.value === null ? -1 : names.indexOf(portion.value)
  choose(names[(at + by + names.length) % names.length] ?? null)
}
function down(event: KeyboardEvent) {
  if (ask.value !== null || !running.value || event.repeat) return
  if (event.ctrlKey || event.metaKey || event.altKey || event.target instanceof HTMLInputElement) return
  const key = event.key.toLowerCase()
  const dialogs: Record<string, Ask> = { t: 'celsius', r: 'wrong', m: 'more' }
  if (key >= '1' && key <= '5') stage(STAGES[Number(key) - 1] as Stage)
  else if (key === 'b') return working.value ? workStop() : workStart('stick')
  else if (key === 'w') return working.value ? workStop() : workStart('hand')
  else if (key === 'f' && hasScent.value)
    pour.tap({ kind: 'scent', portion: portion.value, grams: null, share: null })
  else if (dialogs[key]) {
    ask.value = dialogs[key]
    event.preventDefault()
  } else if (key === 'u') pour.undo()
  else if (key === 'n') press(0)
  else if (key === 'arrowright' || key === 'arrowdown') nextPortion(1)
  else if (key === 'arrowleft' || key === 'arrowup') nextPortion(-1)
}
onMounted(() => window.addEventListener('keydown', down))
onBeforeUnmount(() => {
  window.removeEventListener('keydown', down)
  clearInterval(timer)
})

const cues = useCues(
  computed(() => bench.value?.cues ?? []),
  minute,
  running,
)
const sights = useSights(props.id, props.practice, running, view)
const sight = computed(
  () =>
    sights.value?.seen.find((s) => s.portion === portion.value) ??
    (portion.value ? undefined : sights.value?.seen[0]),
)

const marks = computed(() =>
  (view.value?.events ?? [])
    .filter((e) => !['seen', 'temperature', 'smooth', 'colour', 'remark', 'verdict'].includes(e.event.kind))
    .map((e) => ({
      minute: e.event.minute,
      label: e.label,
      portion: 'portion' in e.event ? (e.event.portion ?? null) : null,
    })),
)
const kept = computed(() => {
  const n = view.value?.events.length ?? 0
  const open = pour.waiting.value.length
  if (pour.offline.value && open) return `${open} not saved yet; kept here, trying again`
  if (pour.offline.value) return 'Round Stone does not answer; taps are kept here'
  if (open) return 'saving …'
  if (props.practice) return 'practice: nothing is kept'
  return n ? `${n} event${n > 1 ? 's' : ''}, all saved` : 'nothing logged yet'
})
const recent = computed(() => [...(view.value?.events ?? [])].slice(-4).reverse())
const last = computed(() => recent.value[0]?.label ?? 'nothing yet')
</script>

<template>
  <div class="bench bg-slate text-bone" :class="running ? 'h-dvh overflow-hidden' : 'min-h-screen'">
    <div
      class="mx-auto flex max-w-7xl flex-col gap-2 px-5 pt-2 pb-3 max-sm:gap-1.5 max-sm:px-3 max-sm:pb-2"
      :class="running ? 'h-full' : 'min-h-screen'"
    >
      <p v-if="pour.missing.value" class="py-10 text-lg">
        {{ pour.missing.value }}
        <RouterLink :to="practice ? '/practice' : '/pours'" class="underline">{{
          practice ? 'Practise again' : 'To the pours'
        }}</RouterLink>
      </p>
      <p v-else-if="!view || !bench" class="py-10 text-lg" role="status">
        {{
          pour.offline.value
            ? 'Round Stone does not answer. This bench opens by itself when it does; taps made before are kept here.'
            : 'Opening the bench …'
        }}
        <RouterLink to="/pours" class="underline">To the pours</RouterLink>
      </p>
      <template v-else>
        <BenchHead
          :view="view"
          :minute="minute"
          :running="running"
          :kept="kept"
          :cues="cues.on.value"
          :busy="pour.waiting.value.length > 0"
          :keys="keys"
          :alone="pour.offline.value ? unanswered.map((kind) => ({ kind, says: DO[kind] })) : []"
          :cue="running ? cues.says.value : ''"
          :narrow="narrow"
          @press="press"
          @why="ask = running ? 'why' : null"
          @turn="(kind) => pour.tap({ kind })"
          @cues="cues.toggle"
          @show="pour.show"
        />

        <p v-if="outbox.trouble.value && !practice" class="font-semibold text-[#ffb4a8]" role="alert">
          {{ outbox.trouble.value }}
        </p>
        <p
          v-for="t in refused"
          :key="t.id"
          class="flex flex-wrap items-center gap-3 text-[#ffb4a8]"
          role="alert"
        >
          <span class="fig">{{ clock(t.event.minute) }}</span> {{ t.event.kind }} could not be read:
          {{ t.refused }}
          <button type="button" class="bench-key px-4" @click="outbox.putAway(t)">Put away</button>
        </p>

        <div
          v-if="running"
          class="grid min-h-0 flex-1 gap-x-5 gap-y-2 max-sm:flex max-sm:flex-col max-sm:gap-1.5 sm:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)]"
        >
          <BenchLanes
            v-if="!narrow"
            :bench="bench"
            :minute="minute"
            :portion="portion"
            :split="split"
            :narrow="false"
            @choose="choose"
          >
            <CutFace
              :code="view.forecast.faces.cut"
              :width="480"
              class="m-auto h-auto max-h-[55vh] max-w-full rounded object-contain"
              says="The cut face as things stand"
            />
          </BenchLanes>
          <div class="flex min-h-0 flex-1 flex-col gap-2 max-sm:gap-1.5">
            <div class="flex min-h-7 items-center gap-3 max-sm:min-h-6">
              <Swatch v-if="lane" :tint="lane.tint" class="w-6! stroke-bone" />
              <h2 class="min-w-0 truncate text-xl font-bold max-sm:text-base" :title="where">
                {{ where }} is now …
              </h2>
              <button
                v-if="view.doubts.length"
                type="button"
                class="ml-auto min-h-7 shrink-0 font-semibold whitespace-nowrap text-[#ffb4a8] underline"
                data-test="to-answer"
                @click="ask = 'doubts'"
              >
                {{ view.doubts.length }} to answer
              </button>
            </div>
            <p v-if="sight" class="flex min-w-0 items-center gap-2 text-lg max-sm:text-sm" data-test="sight">
              <Trail
                v-if="sight.stage"
                :stage="STAGES[sight.stage - 1] as Stage"
                class="w-9 shrink-0 text-[#cfe0d8]"
              />
              <span class="truncate">you see {{ sight.words }}</span>
            </p>
            <LaneBar
              v-if="narrow && lane && bench.lanes.length <= 8"
              :lane="lane"
              :minute="minute"
              :horizon="bench.horizon"
              class="h-12 shrink-0"
            />
            <BenchKeys
              :level="level"
              :seen="seen"
              :working="working ? { tool: working.tool, seconds: ticking } : null"
              :scent="scentSays"
              :celsius="`${view.celsius.toFixed(0)} °C ${view.measured ? 'read' : 'as stated'}`"
              @stage="stage"
              @ask="asked"
              @stop="workStop"
            />
            <BenchLanes
              v-if="narrow"
              :bench="bench"
              :minute="minute"
              :portion="portion"
              :split="split"
              narrow
              @choose="choose"
            />
            <div
              class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_9rem] gap-2 max-sm:flex-none max-sm:grid-cols-[minmax(0,1fr)_6rem]"
            >
              <RescueCard
                v-if="bench.rescue"
                :rescue="bench.rescue"
                :minute="minute"
                @ended="
                  (how) =>
                    bench?.rescue &&
                    pour.tap({ kind: 'mended', portion: bench.rescue.portion, flag: bench.rescue.flag, how })
                "
              />
              <Outcome
                v-else
                :forecast="view.forecast"
                :technique="view.technique.name"
                :narrow="narrow"
                :shown="bench.lanes.some((l) => l.where === 'pot' || l.where === 'raw')"
              />
              <button
                type="button"
                class="bench-key max-h-28 flex-col! gap-0!"
                :disabled="!pour.standing.value.length"
                @click="pour.undo"
              >
                <span>undo</span>
                <span class="line-clamp-2 text-sm font-normal text-mist max-sm:hidden">{{ last }}</span>
              </button>
            </div>
            <p
              v-if="!narrow"
              data-test="recent"
              class="flex h-5 shrink-0 flex-wrap gap-x-5 overflow-hidden text-sm text-mist"
            >
              <span v-for="e in recent" :key="e.event.id" class="whitespace-nowrap">
                <span class="tabular-nums">{{ clock(e.event.minute) }}</span> {{ e.label }}
              </span>
            </p>
            <p v-else data-test="recent" class="truncate text-sm text-mist">
              <span v-for="e in recent.slice(0, 2)" :key="e.event.id" class="pr-3">
                <span class="tabular-nums">{{ clock(e.event.minute) }}</span> {{ e.label }}
              </span>
            </p>
          </div>
        </div>

        <template v-else>
          <Debrief v-if="practice" :id="id" :view="view" />
          <TraceRibbon
            :forecast="view.forecast"
            :lane="portions.length > 2 ? 44 : 72"
            :now="null"
            :marks="marks"
            bench
          />
          <Doubts
            v-if="view.doubts.length"
            :doubts="view.doubts"
            @keep="pour.keep"
            @move="pour.move"
            @take-back="pour.takeBack"
          />
          <AfterPour
            v-if="!practice"
            :view="view"
            @log="pour.log"
            @take-back="pour.takeBack"
            @refresh="pour.look"
          />
          <div class="flex flex-wrap items-center gap-4 border-t border-slab pt-3">
            <span class="text-mist">Ended by a slip? Taking the end back opens it again.</span>
            <button type="button" class="bench-key px-5" @click="reopen">Undo the end</button>
          </div>
        </template>

        <HowLong
          :tool="ask === 'stick' || ask === 'hand' ? ask : null"
          :where="where"
          @close="ask = null"
          @worked="(seconds, purpose) => worked(ask === 'hand' ? 'hand' : 'stick', seconds, purpose)"
          @start="workStart(ask === 'hand' ? 'hand' : 'stick')"
        />
        <ScentDialog
          :open="ask === 'scent'"
          :where="where"
          :planned="grams"
          @close="ask = null"
          @scent="(g) => done({ kind: 'scent', portion, grams: g, share: null })"
          @unscented="done({ kind: 'unscented', portion })"
        />
        <TemperatureDialog
          :open="ask === 'celsius'"
          :celsius="sights?.celsius ?? view.celsius"
          @close="ask = null"
          @read="(celsius) => done({ kind: 'temperature', celsius })"
        />
        <FlagDialog
          :open="ask === 'wrong'"
          :where="where"
          @close="ask = null"
          @flag="(flag) => done({ kind: 'flag', portion, flag })"
        />
        <MoreDialog
          :open="ask === 'more'"
          :view="view"
          :portion="portion"
          :practice="practice"
          @close="ask = null"
          @tap="pour.tap"
          @log="ask = 'log'"
          @refresh="pour.look"
        />
        <BenchDialog
          :open="ask === 'why'"
          wide
          :title="view.advice.headline"
          leave="Back to the bench"
          @close="ask = null"
        >
          <p v-if="view.advice.caution" class="pb-2 text-lg font-semibold text-[#ffb4a8]">
            {{ view.advice.caution }}
          </p>
          <p v-if="view.advice.warning" class="pb-2 text-lg">{{ view.advice.warning }}</p>
          <p class="pb-2 text-lg text-mist">{{ view.advice.detail }}</p>
          <p v-if="view.look_at !== null" class="text-mist">
            The next look tells most at {{ clock(view.look_at)
            }}<template v-if="portions.length > 1"> in {{ view.look_into }}</template
            >.
          </p>
        </BenchDialog>
        <BenchDialog
          :open="ask === 'log'"
          wide
          title="All that was logged"
          leave="Back to the bench"
          @close="ask = null"
        >
          <Logged
            :view="view"
            :portions="portions.map((p) => p.name)"
            @log="pour.log"
            @take-back="pour.takeBack"
          />
        </BenchDialog>
        <BenchDialog
          :open="ask === 'doubts' && view.doubts.length > 0"
          wide
          title="To be answered"
          leave="Later"
          @close="ask = null"
        >
          <Doubts :doubts="view.doubts" @keep="pour.keep" @move="pour.move" @take-back="pour.takeBack" />
        </BenchDialog>
      </template>
    </div>
  </div>
</template>
