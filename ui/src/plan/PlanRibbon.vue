<script setup lang="ts">
/**
 * The plan on the ribbon: every step a block on its lanes, whose foot says how often it comes as drawn, how often too
 * thick or too thin. Blocks are moved and drawn out by hand or by keys; the mould fills below them.
 */
import { computed, nextTick, ref, useId, watch } from 'vue'
import type { Forecast, Schemas, StepForecast } from '../api/client'
import { at, perMinute, stopsOf, ticksOf, type Axis } from '../ribbon/axis'
import { inkOn, shade, TRAIL, type Stage } from '../ribbon/batter'
import { minutes } from '../support/format'
import { useWidth } from '../support/useWidth'
import { blocksOf, fills, type Block } from './blocks'

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
const width = useWidth(box)
const id = useId()
const narrow = computed(() => width.value < 640)
const LEFT = computed(() => (narrow.value ? 84 : 148))
const TOP = 24
const LONG = 60 // minutes of waiting from which they are folded together
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
const firstOf = (batch: string) => props.forecast.lanes.findIndex((l) => l.batch === batch)

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
const ticks = computed(() => ticksOf(axis.value, narrow.value ? 56 : 80))
const blocks = computed(() => blocksOf(props.forecast, axis.value))
const ghosts = computed(() =>
  props.trial ? blocksOf(props.trial, axis.value).filter((b) => !b.prepares && b.to <= count.value) : [],
)
const filling = computed(() =>
  fills(props.forecast, axis.value, laneTop(count.value) + MOULD.value, MOULD.value - 10),
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

/** Where each stage is likeliest in a lane, as its trail. */
const tick = (t: number) =>
  axis.value.folds?.length && t >= 120
    ? `${Math.floor(t / 60)}:${String(Math.round(t % 60)).padStart(2, '0')}`
    : t
const trails = computed(() =>
  props.forecast.lanes.map((lane) =>
    lane.stages.flatMap((s, n) => {
      const from = s.time.q50
      const to = Math.min(lane.stages[n + 1]?.time.q50 ?? Infinity, axis.value.minutes)
      return from < axis.value.minutes && x(to) - x(from) > 30
        ? [{ stage: s.stage as Stage, x: (x(from) + x(to)) / 2 - 12, ink: inkOn(n + 2) }]
        : []
    }),
  ),
)
/** What the words on a block are, by the room there is: beside one another, one over the other, or upright. */
function words(b: Block): { name: string; odds: string; how: 'row' | 'col' | 'up' } {
  const f = frame(b)
  const odds = b.prepares || f.width < 17 ? '' : String(Math.round(100 * b.odds))
  const verb = b.step.label.split(' ')[0] as string
  const fit = (room: number, letter: number) =>
    [b.step.label, verb].find((word) => word.length * letter <= room) ?? ''
  const long = b.step.end - b.step.start
  if (b.step.do === 'wait' && long > LONG) {
    const hours = Math.round(long / 60)
    return { name: hours < 36 ? `${hours} h` : `${Math.round(hours / 24)} days`, odds, how: 'row' }
  }
  if (b.prepares) {
    const up = f.width < 36 && f.height > 58
    return {
      name: f.height < 12 ? '' : fit(up ? f.height - 8 : f.width - 8, 6.4),
      odds,
      how: up ? 'up' : 'row',
    }
  }
  if (f.width < 36 && f.height > 70) return { name: fit(f.height - 40, 7.4), odds, how: 'up' }
  const beside = fit(f.width - 34, 7.4)
  if (beside === b.step.label || f.height < 38) return { name: beside, odds, how: 'row' }
  return { name: fit(f.width - 6, 7.4), odds, how: 'col' }
}
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
  blocks.value.map((b) => ({ ...b, words: words(b), at: frame(b), message: said(b.step) })),
)
const said = (step: StepForecast) =>
  `${step.label}, minute ${minutes(step.start)} to ${minutes(step.end)}` +
  (step.weight > 0 ? `: as drawn ${Math.round(100 * step.odds)} in 100, wants ${step.wants} trace` : '')
const risks = computed(() =>
  props.backs.flatMap((back) => {
    const row = props.forecast.steps.findIndex((s) => s.key === back.step)
    const block = blocks.value.find((b) => b.row === row)
    const stood = props.ready.some((r) => r.step === back.step && r.technique === back.technique)
    return block && block.to < count.value ? [{ back, block, stood }] : []
  }),
)

// By hand: a block is carried along the axis, or drawn out at its right end.
const drag = ref<{
  row: number
  by: number
  kind: 'move' | 'time'
  from: number
  begun: boolean
  off: boolean
} | null>(null)
const AWAY = 70 // px beyond the ribbon from which a step is taken out
function away(event: PointerEvent) {
  const ends = box.value?.getBoundingClientRect()
  return !!ends && (event.clientY < ends.top - AWAY || event.clientY > ends.bottom + AWAY)
}
function grab(event: PointerEvent, row: number, kind: 'move' | 'time') {
  if (event.button !== 0) return
  drag.value = { row, by: 0, kind, from: event.clientX, begun: false, off: false }
  const target = event.currentTarget as HTMLElement
  target.setPointerCapture(event.pointerId)
}
function pull(event: PointerEvent) {
  if (!drag.value) return
  drag.value.off = away(event)
  drag.value.by = event.clientX - drag.value.from
  drag.value.begun ||= Math.abs(drag.value.by) > 4 || drag.value.off
}
let swallow = false
function drop() {
  const d = drag.value
  drag.value = null
  if (!d || !d.begun) return
  swallow = true
  const step = props.forecast.steps[d.row]
  if (!step) return
  if (d.off && d.kind === 'move') {
    emit('take', d.row)
    return
  }
  const by = d.by / perMinute(axis.value)
  if (d.kind === 'time') emit('time', d.row, Math.max(1 + by / Math.max(step.takes.q50, 0.05), 0))
  else {
    const middle = (step.start + step.end) / 2 + by
    const others = props.forecast.steps.filter((_, i) => i !== d.row)
    const to = others.filter((s) => (s.start + s.end) / 2 < middle).length
    if (to !== d.row) emit('move', d.row, to)
  }
}
const moved = (b: Block) => (drag.value?.row === b.row && drag.value.begun ? drag.value : null)
/** The click that ends a drag chooses nothing. */
function choose(row: number) {
  if (swallow) {
    swallow = false
    return
  }
  emit('choose', props.chosen === row ? null : row)
}

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

// A step that was moved by keys keeps the focus when it stands at its new place.
let follows: string | null = null
watch(
  () => props.forecast,
  async () => {
    if (!follows) return
    const row = props.forecast.steps.findIndex((s) => s.key === follows)
    follows = null
    await nextTick()
    if (row >= 0) go(row)
  },
)
function go(row: number) {
  const found = box.value?.querySelector<HTMLElement>(`[data-row="${row}"]`)
  found?.focus()
}
function key(event: KeyboardEvent, row: number) {
  const step = props.forecast.steps[row]
  if (!step) return
  const last = props.forecast.steps.length - 1
  const by = event.key === 'ArrowLeft' || event.key === 'ArrowUp' ? -1 : 1
  if (['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'].includes(event.key)) {
    event.preventDefault()
    const to = Math.min(Math.max(row + by, 0), last)
    if (event.altKey && to !== row) {
      follows = step.key
      emit('move', row, to)
    } else go(to)
  } else if (event.key === '+' || event.key === '-') emit('time', row, event.key === '+' ? 1.25 : 0.8)
  else if (event.key === 'Delete' || event.key === 'Backspace') emit('take', row)
  else if (event.key === 'Insert') emit('add', row)
  else if (event.key === 'Escape') emit('choose', null)
}
</script>

<template>
  <section
    ref="box"
    class="relative overflow-x-clip select-none"
    aria-label="Plan on the ribbon"
    :style="{ height: `${height}px` }"
  >
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      :height="height"
      class="absolute inset-0 block w-full"
      aria-hidden="true"
    >
      <defs>
        <linearGradient v-for="(lane, i) in forecast.lanes" :id="`${id}-${i}`" :key="i">
          <stop
            v-for="s in stopsOf(axis, lane.shade, forecast.axis, shade)"
            :key="s.at"
            :offset="s.at"
            :stop-color="s.colour"
          />
        </linearGradient>
      </defs>
      <g fill="var(--color-quiet)" font-size="12.5" class="fig">
        <text v-if="!narrow" :x="axis.left - 10" y="12" text-anchor="end">min from lye in</text>
        <g v-for="t in ticks" :key="t">
          <text :x="x(t)" y="12" text-anchor="middle">{{ tick(t) }}</text>
          <line :x1="x(t)" :x2="x(t)" y1="16" y2="20" stroke="var(--color-quiet)" />
        </g>
      </g>
      <text
        v-for="b in heads ? batches : []"
        :key="b"
        x="0"
        :y="laneTop(firstOf(b)) - 5"
        font-size="12.5"
        fill="var(--color-quiet)"
      >
        {{ b || 'the pot' }}{{ b ? ', its own lye-in' : '' }}
      </text>
      <g v-for="(lane, i) in forecast.lanes" :key="lane.portion">
        <ellipse
          :cx="11"
          :cy="laneTop(i) + tall / 2"
          rx="10.5"
          ry="7.5"
          :fill="lane.tint"
          stroke="var(--color-ink)"
        />
        <text x="28" :y="laneTop(i) + tall / 2 + (tall > 30 ? -2 : 5)" font-size="14.5" font-weight="700">
          {{
            lane.portion.length > (narrow ? 6 : 13)
              ? `${lane.portion.slice(0, narrow ? 5 : 12)}…`
              : lane.portion
          }}
          <title>{{ lane.portion }}</title>
        </text>
        <text
          v-if="tall > 30"
          x="28"
          :y="laneTop(i) + tall / 2 + 14"
          font-size="12"
          fill="var(--color-quiet)"
        >
          {{ Math.round(lane.share * 100) }} %{{ narrow ? '' : lane.scented ? ' · scented' : ' · unscented' }}
        </text>
        <rect
          :x="axis.left"
          :y="laneTop(i)"
          :width="axis.width"
          :height="tall"
          rx="6"
          :fill="`url(#${id}-${i})`"
          stroke="var(--color-rule)"
        />
        <path
          v-for="t in trails[i]"
          :key="t.stage"
          :d="TRAIL[t.stage]"
          :transform="`translate(${t.x} ${laneTop(i) + 4})`"
          fill="none"
          :stroke="t.ink"
          stroke-opacity=".6"
          stroke-width="1.8"
          stroke-linecap="round"
        />
      </g>
      <g>
        <path
          :d="`M2 ${laneTop(count) + 8}v${MOULD - 22}h18v-${MOULD - 22}`"
          fill="none"
          stroke="var(--color-ink)"
          stroke-width="2"
        />
        <text x="28" :y="laneTop(count) + MOULD / 2 - 4" font-size="14.5" font-weight="700">Mould</text>
        <text x="28" :y="laneTop(count) + MOULD / 2 + 12" font-size="12" fill="var(--color-quiet)">
          {{ narrow ? '' : filled }}
        </text>
        <polygon v-for="(f, i) in filling" :key="i" :points="f.points" :fill="f.tint" />
        <path
          :d="`M${axis.left} ${laneTop(count)}v${MOULD}h${axis.width}v-${MOULD}`"
          fill="none"
          stroke="var(--color-ink)"
          stroke-width="2"
        />
      </g>
    </svg>

    <div
      v-for="b in ghosts"
      :key="`trial ${b.key}`"
      class="pointer-events-none absolute z-10 rounded-md border-2 border-dotted border-ink bg-chalk/80 text-xs leading-tight font-semibold"
      :style="px(frame(b))"
      aria-hidden="true"
    >
      <span v-if="b.width > 22" class="flex h-full items-center justify-center gap-1">
        <span v-if="words(b).how === 'row' && words(b).name">{{ words(b).name }}</span>
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
        b.risky ? 'border-iron text-iron' : 'border-ink',
        chosen === b.row ? 'z-20 outline-3 outline-offset-1 outline-ink' : '',
        moved(b)
          ? drag?.off
            ? 'z-30 opacity-30'
            : 'z-30 cursor-grabbing opacity-80 shadow-lg'
          : 'cursor-grab',
        trial ? 'opacity-25' : '',
      ]"
      :style="
        px(b.at, moved(b)?.kind === 'move' ? moved(b)?.by : 0, moved(b)?.kind === 'time' ? moved(b)?.by : 0)
      "
      :data-row="b.row"
      :tabindex="n === 0 || chosen === b.row ? 0 : -1"
      :aria-expanded="chosen === b.row"
      :title="b.message"
      @pointerdown="grab($event, b.row, 'move')"
      @pointermove="pull"
      @pointerup="drop"
      @pointercancel="drag = null"
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
      <svg
        v-if="!b.prepares"
        class="absolute inset-x-0 bottom-0 h-2 w-full"
        viewBox="0 0 100 8"
        preserveAspectRatio="none"
        aria-hidden="true"
      >
        <rect width="100" height="8" fill="var(--color-chalk)" />
        <rect :width="100 * b.odds" height="8" fill="var(--color-good)" />
        <rect :x="100 * b.odds" :width="100 * b.thick" height="8" :fill="`url(#${id}-hatch)`" />
        <rect :x="100 * (b.odds + b.thick)" :width="100 * b.thin" height="8" :fill="`url(#${id}-dots)`" />
        <rect
          v-if="b.lost > 0.005"
          :x="100 - 100 * b.lost"
          :width="100 * b.lost"
          height="8"
          fill="var(--color-iron)"
        />
        <defs>
          <pattern :id="`${id}-hatch`" width="6" height="8" patternUnits="userSpaceOnUse">
            <rect width="6" height="8" fill="var(--color-hatch)" />
            <path d="M-1 9L7 -1" stroke="var(--color-quiet)" stroke-width="1.6" />
          </pattern>
          <pattern :id="`${id}-dots`" width="6" height="5" patternUnits="userSpaceOnUse">
            <rect width="6" height="5" fill="var(--color-dots)" />
            <circle cx="2.5" cy="2.5" r="1.3" fill="var(--color-quiet)" />
          </pattern>
        </defs>
      </svg>
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
