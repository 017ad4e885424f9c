<script setup lang="ts">
/**
 * The plan on the ribbon: every step a block on its lanes, whose foot says how often it comes as planned, how often too
 * thick or too thin. Blocks are moved and drawn out by hand or by keys; the mould fills below them.
 */
import { computed, ref, useId } from 'vue'
import type { Forecast, Schemas, StepForecast } from '../api/client'
import { at, type Axis } from '../ribbon/axis'
import { minutes } from '../support/format'
import { useElementSize } from '@vueuse/core'
import { blocksOf, type Block } from './blocks'
import { blockWords, LONG } from './blockWords'
import OddsFoot from './OddsFoot.vue'
import PlanLanes from './PlanLanes.vue'
import { useHand } from './useHand'

const props = defineProps<{
  forecast: Forecast
  /** A change that is tried: where its blocks would stand. */
  trial: Forecast | null
  ready: readonly Schemas['StandBy'][]
  backs: readonly Schemas['FallBack'][]
  chosen: number | null
  filled: string
}>()
const emit = defineEmits<{
  choose: [row: number | null]
  move: [row: number, to: number]
  time: [row: number, times: number]
  take: [row: number]
  add: [row: number]
}>()

const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box, { width: 1000, height: 0 })
const id = useId()
const narrow = computed(() => width.value < 640)
const LEFT = computed(() => (narrow.value ? 84 : 148))
const TOP = 24
const count = computed(() => props.forecast.lanes.length)
const tall = computed(() => (count.value > 8 ? 27 : count.value > 5 ? 36 : 46))
const gap = computed(() => (count.value > 8 ? 5 : 9))
const FOOT = computed(() => (count.value > 8 ? 8 : 13))
const MOULD = computed(() => (count.value > 8 ? 54 : 62))
// Lanes of one batch stand together, under its own name.
const batches = computed(() => [...new Set(props.forecast.lanes.map((l) => l.batch))])
const heads = computed(() => (batches.value.length > 1 ? 18 : 0))
const tops = computed(() => {
  const seen = new Set<string>()
  const all = props.forecast.lanes.map((lane, i) => {
    seen.add(lane.batch)
    return TOP + i * (tall.value + gap.value) + seen.size * heads.value
  })
  return [...all, (all.at(-1) ?? TOP) + tall.value + gap.value + 4]
})
const laneTop = (i: number) => tops.value[Math.min(i, count.value)] ?? TOP
const laneHeight = (i: number) => (i < count.value ? tall.value : MOULD.value)
const height = computed(() => laneTop(count.value) + MOULD.value + 4)

/** The axis ends with the plan, a little of what comes after, and as far as a trial goes. */
const axis = computed<Axis>(() => {
  const ends = [props.forecast, props.trial].map((f) => f?.steps.at(-1)?.end ?? 0)
  const last = Math.max(...ends)
  const folds = props.forecast.steps.flatMap((s) =>
    s.do === 'wait' && s.end - s.start > LONG
      ? [[s.start + 1, s.end - 1] as const]
      : s.waits > LONG
        ? [[s.start - s.waits + 1, s.start - 1] as const]
        : [],
  )
  const long = folds.reduce((sum, [a, b]) => sum + b - a, 0)
  const end = Math.min(last + (last - long) * 0.12 + 1, Math.max(props.forecast.axis, last))
  return {
    minutes: Math.max(end, 4),
    left: LEFT.value,
    width: Math.max(width.value - LEFT.value - 10, 10),
    folds,
  }
})
const x = (minute: number) => at(axis.value, minute)
const blocks = computed(() => blocksOf(props.forecast, axis.value))
const ghosts = computed(() =>
  props.trial ? blocksOf(props.trial, axis.value).filter((b) => !b.prepares && b.to <= count.value) : [],
)

const frame = (b: Block) => {
  const top = laneTop(b.from)
  const whole = laneTop(b.to) + laneHeight(b.to) - top
  return b.prepares && b.from === b.to
    ? { left: b.x, top: top + whole - FOOT.value - 2, width: b.width, height: FOOT.value }
    : b.prepares
      ? { left: b.x, top: top + 2, width: b.width, height: whole - 4 }
      : { left: b.x, top: top + 2, width: b.width, height: whole - 4 }
}
const px = (f: ReturnType<typeof frame>, by = 0, wider = 0) => ({
  left: `${f.left + by}px`,
  top: `${f.top}px`,
  width: `${Math.max(f.width + wider, 3)}px`,
  height: `${f.height}px`,
})

/** Where a step waits for the batter, and for how long. */
const waits = computed(() =>
  blocks.value
    .filter((b) => b.step.waits >= 0.25)
    .map((b) => {
      const f = frame(b)
      const from = x(b.step.start - b.step.waits)
      const { low, high } = b.step.waits_span
      const room = f.left - from
      const long = `waits about ${minutes(b.step.waits)} min (${minutes(low)}–${minutes(high)})`
      return {
        key: b.key,
        message: room > 150 ? long : room > 64 ? `${minutes(low)}–${minutes(high)} min` : '',
        style: {
          left: `${from}px`,
          width: `${Math.max(room, 2)}px`,
          top: `${f.top + 4}px`,
          height: `${f.height - 8}px`,
        },
      }
    }),
)
/** Blocks with all that is drawn of them. */
const views = computed(() =>
  blocks.value.map((b) => ({ ...b, words: blockWords(b, frame(b)), at: frame(b), message: said(b.step) })),
)
const said = (step: StepForecast) =>
  `${step.label}, minute ${minutes(step.start)} to ${minutes(step.end)}` +
  (step.weight > 0 ? `: as planned ${Math.round(100 * step.odds)} %, wants ${step.wants} trace` : '')
const risks = computed(() =>
  props.backs.flatMap((back) => {
    const row = props.forecast.steps.findIndex((s) => s.key === back.step)
    const block = blocks.value.find((b) => b.row === row)
    const stood = props.ready.some((r) => r.step === back.step && r.technique === back.technique)
    return block && block.to < count.value ? [{ back, block, stood }] : []
  }),
)

const { grab, pull, drop, cancel, moved, choose, key } = useHand(box, () => props.forecast, axis, {
  choose: (row) => emit('choose', props.chosen === row ? null : row),
  leave: () => emit('choose', null),
  move: (row, to) => emit('move', row, to),
  time: (row, times) => emit('time', row, times),
  take: (row) => emit('take', row),
  add: (row) => emit('add', row),
})

/** Where a point of the screen is in the plan: before which step, and on which lane. */
function place(clientX: number, clientY: number) {
  const ends = box.value?.getBoundingClientRect()
  if (!ends || clientY < ends.top || clientY > ends.bottom || clientX < ends.left || clientX > ends.right)
    return null
  const [px, py] = [clientX - ends.left, clientY - ends.top]
  const row = props.forecast.steps.filter((s) => (x(s.start) + x(s.end)) / 2 < px).length
  const lane = props.forecast.lanes.findIndex((_, i) => py < laneTop(i) + tall.value + gap.value)
  return { row: Math.max(row, 1), lane: lane < 0 ? count.value - 1 : lane }
}
defineExpose({ place })
</script>

<template>
  <section
    ref="box"
    class="relative overflow-x-clip select-none"
    aria-label="Plan on the ribbon"
    :style="{ height: `${height}px` }"
  >
    <PlanLanes
      :id="id"
      :forecast="forecast"
      :axis="axis"
      :width="width"
      :height="height"
      :narrow="narrow"
      :tall="tall"
      :mould="MOULD"
      :heads="heads"
      :filled="filled"
      :lane-top="laneTop"
    />

    <div
      v-for="b in ghosts"
      :key="`trial ${b.key}`"
      class="pointer-events-none absolute z-10 rounded-md border-2 border-dotted border-ink bg-chalk/80 text-xs leading-tight font-semibold"
      :style="px(frame(b))"
      aria-hidden="true"
    >
      <span v-if="b.width > 22" class="flex h-full items-center justify-center gap-1">
        <span v-if="blockWords(b, frame(b)).how === 'row'">{{ blockWords(b, frame(b)).name }}</span>
        <span class="fig">{{ Math.round(100 * b.odds) }}</span>
      </span>
    </div>

    <span
      v-for="w in waits"
      :key="`wait ${w.key}`"
      class="pointer-events-none absolute flex items-center overflow-hidden border-y border-l border-dashed border-ink/70 bg-chalk/40 px-1 text-xs leading-tight"
      :style="w.style"
    >
      {{ w.message }}
    </span>

    <button
      v-for="(b, n) in views"
      :key="b.key"
      type="button"
      class="group absolute touch-none overflow-hidden rounded-md border text-left leading-tight"
      :class="[
        b.prepares ? 'border-ink/60 text-xs' : 'border-[1.6px] text-[0.8125rem]',
        b.from === b.to ? 'bg-chalk/95' : 'bg-chalk/75',
        b.risky ? 'border-ink' : 'border-ink/45',
        chosen === b.row ? 'z-20 outline-3 outline-offset-1 outline-ink' : '',
        moved(b.row)
          ? moved(b.row)?.off
            ? 'z-30 opacity-30'
            : 'z-30 cursor-grabbing opacity-80 shadow-lg'
          : 'cursor-grab',
        trial ? 'opacity-25' : '',
      ]"
      :style="
        px(
          b.at,
          moved(b.row)?.kind === 'move' ? moved(b.row)?.by : 0,
          moved(b.row)?.kind === 'time' ? moved(b.row)?.by : 0,
        )
      "
      :data-row="b.row"
      :tabindex="n === 0 || chosen === b.row ? 0 : -1"
      :aria-expanded="chosen === b.row"
      :title="b.message"
      @pointerdown="grab($event, b.row, 'move')"
      @pointermove="pull"
      @pointerup="drop"
      @pointercancel="cancel"
      @click="choose(b.row)"
      @keydown="key($event, b.row)"
    >
      <span
        class="absolute inset-x-0 top-0 flex items-center justify-center whitespace-nowrap"
        :class="[
          b.prepares ? 'bottom-0' : 'bottom-2 font-bold',
          b.words.how === 'col'
            ? 'flex-col'
            : b.words.how === 'up'
              ? 'rotate-180 flex-row [writing-mode:vertical-rl]'
              : '',
        ]"
      >
        <span v-if="b.words.name">{{ b.words.name }}</span>
        <span v-if="b.words.odds" class="fig px-1 font-semibold">{{ b.words.odds }}</span>
      </span>
      <span class="sr-only">{{ b.message }}</span>
      <OddsFoot v-if="!b.prepares" :id="id" :block="b" />
      <span
        class="absolute inset-y-0 right-0 w-2 cursor-ew-resize opacity-0 group-hover:opacity-100 group-hover:bg-ink/15"
        @pointerdown.stop="grab($event, b.row, 'time')"
        @pointermove="pull"
        @pointerup.stop="drop"
        @click.stop
      />
    </button>

    <span
      v-for="r in risks"
      :key="`else ${r.back.step}`"
      class="pointer-events-none absolute z-20 rounded-md border border-dashed border-ink px-1.5 text-xs leading-5 whitespace-nowrap"
      :class="r.stood ? 'bg-ink text-chalk' : 'bg-chalk'"
      :style="{
        left: `${Math.max(Math.min(r.block.x, width - 80 - 6.6 * r.back.name.length), 0)}px`,
        top: `${laneTop(r.block.to) + tall - 3}px`,
      }"
    >
      else {{ r.back.name.toLowerCase() }} <b class="fig">{{ Math.round(100 * r.back.instead.drawn) }}</b>
    </span>
  </section>
</template>
