<script setup lang="ts">
/** What now? One sentence and one big key; lanes to choose from; keys for wet gloves. Nothing here scrolls. */
import { refDebounced, useWindowSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import AfterPour from '../bench/AfterPour.vue'
import BenchDialogs from '../bench/BenchDialogs.vue'
import BenchHead from '../bench/BenchHead.vue'
import BenchKeys, { type Ask, type Tool } from '../bench/BenchKeys.vue'
import BenchLanes from '../bench/BenchLanes.vue'
import ClockJump from '../bench/ClockJump.vue'
import Debrief from '../bench/Debrief.vue'
import Doubts from '../bench/Doubts.vue'
import LaneBar from '../bench/LaneBar.vue'
import NotTaken from '../bench/NotTaken.vue'
import Outcome from '../bench/Outcome.vue'
import RescueCard from '../bench/RescueCard.vue'
import { useChosen } from '../bench/useChosen'
import { useCues } from '../bench/useCues'
import { useKeyboard } from '../bench/useKeyboard'
import { useSlip } from '../bench/useSlip'
import { useMarks } from '../bench/useMarks'
import { usePour, type Purpose, type Tap } from '../bench/usePour'
import { useNoted } from '../bench/useNoted'
import { useSights } from '../bench/useSights'
import WhereNow from '../bench/WhereNow.vue'
import { useWork } from '../bench/useWork'
import { STAGES, type Stage } from '../ribbon/batter'
import TraceRibbon from '../ribbon/TraceRibbon.vue'
import CutFace from '../support/CutFace.vue'
import { clock } from '../support/format'
import { warmth, weight } from '../support/quantity'

const props = withDefaults(defineProps<{ id: string; practice?: boolean }>(), { practice: false })
const pour = usePour(props.id, props.practice)
const { view, minute, running } = pour
const noted = useNoted(view, props.practice)
const page = useWindowSize()
const narrow = computed(() => page.width.value < 640)
const ask = ref<Ask | null>(null)

const standing = (kind: string) => pour.standing.value.some((e) => e.kind === kind)
const { portion, portions, split, lane, where, choose, lead, next } = useChosen(
  view,
  computed(() => standing('split')),
)
const bench = computed(() => view.value?.bench)
const emptied = computed(() => !bench.value?.lanes.some((l) => l.where === 'pot' || l.where === 'raw'))
const SETTLED = 1200 // ms: drawing the face anew at every tap would hold up the taps
const face = refDebounced(
  computed(() => view.value?.forecast.faces.cut ?? ''),
  SETTLED,
)

/** What was tapped last of it and is still on its way there; shown at once, as the tap is kept already. */
const tapped = computed(() => {
  const looks = pour.waiting.value.flatMap((t) => (t.event.kind === 'seen' ? [t.event] : []))
  const last = looks.filter((e) => !e.portion || e.portion === portion.value).at(-1)
  return last ? STAGES.indexOf(last.stage) + 1 : null
})
const level = computed(
  () =>
    tapped.value ??
    (lane.value ? lane.value.level : Math.min(...(bench.value?.lanes ?? []).map((l) => l.level))),
)
const seen = computed(() => {
  if (tapped.value !== null) return 'now'
  const at = (lane.value ?? bench.value?.lanes[0])?.seen ?? null
  return at === null ? '' : `${narrow.value ? '' : 'seen '}${clock(minute.value - at)} ago`
})
const hasScent = computed(() => (view.value?.recipe.scents.length ?? 0) > 0)
const scentSays = computed(() => {
  if (!hasScent.value) return null
  if (lane.value?.scent === 'in') return `in since ${clock(minute.value - (lane.value.scented ?? 0))}`
  const grams = (lane.value ?? bench.value)?.grams ?? 0
  return grams > 0 ? `${weight(grams)} planned` : 'none planned'
})

const keys = computed(() => (pour.offline.value ? [] : (bench.value?.keys ?? [])))
/** What can still be put down while nothing answers: advice stands still then, the batter does not. */
const DO = { split: 'Batter is split', pouring: 'Pouring now', ended: 'Mould is full' } as const
const alone = computed(() =>
  pour.offline.value
    ? (['split', 'pouring', 'ended'] as const)
        .filter((kind) => !standing(kind) && (kind !== 'split' || portions.value.length > 1))
        .map((kind) => ({ kind, message: DO[kind] }))
    : [],
)
function press(n: number) {
  const key = keys.value[n]
  // While a tap is on its way the advice is about to change: acting on the old one would do the wrong thing.
  if (!key || !running.value || pour.waiting.value.length) return
  lead()
  pour.tap(key.event as Tap)
}
function stage(s: Stage) {
  pour.tap({ kind: 'seen', portion: portion.value, stage: s, turned: false })
}
function worked(tool: Tool, seconds: number, purpose: Purpose = 'mix') {
  pour.tap({ kind: 'work', tool, portion: portion.value, seconds: Math.min(seconds, 1800), purpose })
}
const work = useWork(pour.speed, worked)
function reopen() {
  const end = view.value?.events.find((e) => e.event.kind === 'ended')
  if (end) pour.takeBack(end.event.id)
}

const { slip, withdraw } = useSlip(props.id, props.practice, pour)

const HANDLES: Record<string, () => void> = {
  b: () => work.toggle('stick'),
  w: () => work.toggle('hand'),
  f: () => hasScent.value && pour.tap({ kind: 'scent', portion: portion.value, grams: null, share: null }),
  t: () => (ask.value = 'celsius'),
  r: () => (ask.value = 'wrong'),
  m: () => (ask.value = 'more'),
  u: () => (slip.value ? void withdraw() : pour.undo()),
  n: () => press(0),
  arrowright: () => next(1),
  arrowdown: () => next(1),
  arrowleft: () => next(-1),
  arrowup: () => next(-1),
  ...Object.fromEntries(STAGES.map((s, i) => [String(i + 1), () => stage(s)])),
}
useKeyboard(HANDLES, running, ask)

const cues = useCues(
  computed(() => bench.value?.cues ?? []),
  minute,
  running,
)
const sights = useSights(props.id, props.practice, running, view)
const sight = computed(() =>
  portion.value ? sights.value?.seen.find((s) => s.portion === portion.value) : sights.value?.seen[0],
)

const { marks, kept } = useMarks(pour, props.practice)
const recent = computed(() => [...(view.value?.events ?? [])].slice(narrow.value ? -2 : -4).reverse())
</script>

<template>
  <div
    class="bench bg-slate text-bone"
    :class="
      running
        ? 'h-dvh overflow-hidden max-sm:h-auto max-sm:min-h-dvh max-sm:overflow-visible short:h-auto short:min-h-dvh short:overflow-visible'
        : 'min-h-screen'
    "
  >
    <div
      class="mx-auto flex max-w-7xl flex-col gap-2 px-5 pt-2 pb-3 max-sm:gap-1.5 max-sm:px-3 max-sm:pb-2"
      :class="running ? 'h-full max-sm:h-auto max-sm:min-h-dvh short:h-auto' : 'min-h-screen'"
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
          :alone="alone"
          :cue="running ? cues.message.value : ''"
          :noted="noted.step.value[0] ?? ''"
          :narrow="narrow"
          @press="press"
          @why="ask = running ? 'why' : null"
          @turn="(kind) => pour.tap({ kind })"
          @cues="cues.toggle"
          @show="pour.show"
        />

        <NotTaken v-if="!practice" :id="id" />
        <ClockJump
          v-if="pour.jump.value !== null && running"
          :minute="minute"
          :jump="pour.jump.value"
          @hold="pour.hold"
        />

        <div
          v-if="running"
          class="grid min-h-0 flex-1 gap-x-5 gap-y-2 max-sm:flex max-sm:flex-col max-sm:gap-1.5 sm:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)] sm:max-lg:portrait:grid-cols-1 sm:max-lg:portrait:grid-rows-[minmax(0,1fr)_minmax(0,1.3fr)]"
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
              :code="face"
              :width="480"
              class="m-auto h-auto max-h-[55vh] max-w-full rounded object-contain"
              message="The cut face as things stand"
            />
          </BenchLanes>
          <div class="flex min-h-0 flex-1 flex-col gap-2 max-sm:gap-1.5">
            <WhereNow
              :tint="lane?.tint ?? null"
              :where="where"
              :doubts="view.doubts.length"
              :sight="sight"
              @answer="ask = 'doubts'"
            />
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
              :working="work.working.value"
              :scent="scentSays"
              :celsius="`${warmth(view.celsius)} ${view.measured ? 'read' : 'as stated'}`"
              @stage="stage"
              @ask="(what) => (ask = what)"
              @stop="work.stop"
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
                :outlook="view.forecast.outlook"
                :technique="view.technique.name"
                :face="narrow || emptied ? '' : face"
              />
              <button
                type="button"
                class="bench-key max-h-28 flex-col! gap-0!"
                :disabled="!pour.standing.value.length && !slip"
                @click="slip ? withdraw() : pour.undo()"
              >
                <span>undo</span>
                <span class="line-clamp-2 text-sm font-normal text-mist max-sm:text-xs">{{
                  slip ? 'lye has not met fats' : (recent[0]?.label ?? 'nothing yet')
                }}</span>
              </button>
            </div>
            <p
              data-test="recent"
              class="flex h-5 shrink-0 flex-wrap gap-x-5 overflow-hidden text-sm text-mist"
            >
              <span v-for="e in recent" :key="e.event.id" class="max-w-full truncate">
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

        <BenchDialogs
          v-model="ask"
          :view="view"
          :portion="portion"
          :where="where"
          :practice="practice"
          :noted="noted.scent.value"
          :celsius="sights?.celsius ?? view.celsius"
          @tap="pour.tap"
          @worked="worked"
          @start="work.start"
          @log="pour.log"
          @keep="pour.keep"
          @move="pour.move"
          @take-back="pour.takeBack"
          @refresh="pour.look"
        />
      </template>
    </div>
  </div>
</template>
