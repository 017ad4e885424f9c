<script setup lang="ts">
/**
 * The trace ribbon: minutes from when the lye meets the fats, one lane of batter per portion, its stages as
 * shades with boundaries as soft as they are uncertain, and the design's steps standing on it with their odds.
 */
import { computed, ref, useId } from 'vue'
import type { Forecast } from '../api/client'
import { useWidth } from '../support/useWidth'
import { minutes } from '../support/format'
import { at, stopsOf, ticksOf, type Axis } from './axis'
import { inkOn, shade, STAGES, TRAIL, type Stage } from './batter'
import RibbonTable from './RibbonTable.vue'
import StepBlock from './StepBlock.vue'

const props = withDefaults(
  defineProps<{
    forecast: Forecast
    lane?: number
    now?: number | null
    marks?: { minute: number; label: string; portion: string | null }[]
    steps?: boolean
    bench?: boolean
    quiet?: boolean
    /** The same batter with a knob turned, as a thin second ribbon over each lane. */
    ghost?: Forecast | null
  }>(),
  { ghost: null, lane: 56, now: null, marks: () => [], steps: true, bench: false, quiet: false },
)

const box = ref<HTMLElement | null>(null)
const width = useWidth(box)
const id = useId()
const asTable = ref(false)

const narrow = computed(() => width.value < 560)
const tall = computed(() => (narrow.value ? Math.min(props.lane, 42) : props.lane))
const left = computed(() => (narrow.value ? 2 : 150))
const right = 14
const axis = computed<Axis>(() => ({
  minutes: props.forecast.axis,
  left: left.value,
  width: width.value - left.value - right,
}))
const x = (minute: number) => at(axis.value, minute)
const ticks = computed(() => ticksOf(axis.value, narrow.value ? 60 : 90))

const TOP = 26
const spans = computed(() => (props.quiet ? 32 : 40))
const GHOST = 13
const ghostRoom = computed(() => (props.ghost ? GHOST + 5 : 0))
const nameRoom = computed(() => (narrow.value ? 22 : 0) + ghostRoom.value)
const laneTop = (i: number) => TOP + nameRoom.value + i * (tall.value + spans.value + nameRoom.value)
const height = computed(() => laneTop(props.forecast.lanes.length - 1) + tall.value + spans.value)

const stops = (i: number) =>
  stopsOf(axis.value, props.forecast.lanes[i]?.shade ?? [], props.forecast.axis, shade)

/** The ghost's lanes on this ribbon's axis: its shades, the last of them held to the end, and its stages. */
const ghosts = computed(() =>
  (props.ghost?.lanes ?? []).slice(0, props.forecast.lanes.length).map((lane, i) => ({
    y: laneTop(i) - GHOST - 3,
    stops: stopsOf(axis.value, lane.shade, props.ghost?.axis ?? 1, shade),
    stages: lane.stages
      .filter((s) => s.time.q50 < props.forecast.axis)
      .map((s) => ({ stage: s.stage, x: x(s.time.q50), said: minutes(s.time.q50) })),
  })),
)

interface Boundary {
  stage: Stage
  low: number
  core: [number, number]
  mid: number
  high: number
  label: string
  labelX: number
  shown: boolean
  beyond: boolean
  seen: boolean
  dy: number
  expected: number | null
}

const boundaries = computed<Boundary[][]>(() =>
  props.forecast.lanes.map((lane) => {
    let free = left.value - 20
    return lane.stages
      .filter((s) => s.time.q10 < props.forecast.axis)
      .map((s, n) => {
        const beyond = s.time.q50 > props.forecast.axis
        const mid = x(s.seen ?? s.time.q50)
        const said = s.seen ?? s.time.q50
        const label = beyond ? `${s.stage} ${minutes(said)} →` : `${s.stage} ${minutes(said)}`
        const half = label.length * 3.8 + 17
        const labelX = Math.min(Math.max(mid, left.value + half), width.value - half - 2)
        const shown = labelX - half > free
        if (shown) free = labelX + half + 4
        const moved = s.seen === null && Math.abs(s.expected - s.time.q50) > 0.08 * s.time.q50
        return {
          stage: s.stage as Stage,
          low: x(s.time.q10),
          core: [x(s.time.q25), x(s.time.q75)] as [number, number],
          mid,
          high: x(s.time.q90),
          label,
          labelX,
          shown,
          beyond,
          seen: s.seen !== null,
          dy: n % 2 ? 11 : 7,
          expected: moved && s.expected < props.forecast.axis ? x(s.expected) : null,
        }
      })
  }),
)

const planEnd = computed(() => x(props.forecast.steps.at(-1)?.end ?? 0))

/** Where in a lane each stage is likeliest, if there is room to draw its trail there. */
const trails = computed(() =>
  props.forecast.lanes.map((lane) => {
    const edges = [props.forecast.emulsion.q50, ...lane.stages.map((s) => s.time.q50), Infinity]
    return STAGES.flatMap((stage, i) => {
      const from = x(edges[i] as number)
      const to = x(Math.min(edges[i + 1] as number, props.forecast.axis))
      const hidden = props.steps && (from + to) / 2 < planEnd.value + 16
      return to - from > 34 && !hidden ? [{ stage, at: (from + to) / 2 - 12, ink: inkOn(i + 1) }] : []
    })
  }),
)

/** What makes the look stands on its lanes as blocks; what only prepares is a mark along their foot. */
const blocks = computed(() =>
  props.forecast.steps
    .filter((step) => step.weight > 0 && !step.skipped)
    .flatMap((step) =>
      step.portions.map((lane, n) => ({
        step,
        odds: step.each[n] ?? step.odds,
        risky: step.risky.includes(lane),
        tooThin: step.thin.includes(lane),
        x: x(step.start) + 1,
        width: Math.max(x(step.end) - x(step.start) - 2, 6),
        y: laneTop(lane) + 5,
        height: tall.value - 10,
      })),
    ),
)
const FOOT = 6
const prepares = computed(() =>
  props.forecast.steps
    .filter((step) => step.weight === 0)
    .flatMap((step) =>
      step.portions.map((lane) => ({
        key: `${step.key} ${lane}`,
        label: step.label,
        x: x(step.start) + 0.5,
        width: Math.max(x(step.end) - x(step.start) - 1, 2),
        y: laneTop(lane) + tall.value - FOOT - 2,
      })),
    ),
)

const laneOf = (portion: string | null) => props.forecast.lanes.findIndex((l) => l.portion === portion)
const markAt = computed(() =>
  props.marks.map((m) => {
    const i = laneOf(m.portion)
    return { ...m, x: x(m.minute), y: i < 0 ? TOP - 7 : laneTop(i) - 2 }
  }),
)

const summary = computed(() =>
  props.forecast.lanes
    .map((lane) => {
      const stages = lane.stages.map((s) => `${s.stage} at about ${minutes(s.time.q50)} min`)
      return `${lane.portion}: ${stages.join(', ')}`
    })
    .join('. '),
)
const ink = computed(() => (props.bench ? 'var(--color-bone)' : 'var(--color-ink)'))
const faint = computed(() => (props.bench ? 'var(--color-mist)' : 'var(--color-quiet)'))
</script>

<template>
  <section
    ref="box"
    tabindex="0"
    class="relative"
    aria-label="Trace ribbon"
    :aria-describedby="`${id}-sum`"
    @keydown.enter.self="asTable = !asTable"
  >
    <p :id="`${id}-sum`" class="sr-only">{{ summary }}. Press Enter for a table of the same figures.</p>
    <svg :viewBox="`0 0 ${width} ${height}`" :height="height" class="block w-full" aria-hidden="true">
      <defs>
        <linearGradient v-for="(_, i) in forecast.lanes" :id="`${id}-lane-${i}`" :key="i">
          <stop v-for="s in stops(i)" :key="s.at" :offset="s.at" :stop-color="s.colour" />
        </linearGradient>
        <linearGradient v-for="(g, i) in ghosts" :id="`${id}-ghost-${i}`" :key="`ghost ${i}`">
          <stop v-for="s in g.stops" :key="s.at" :offset="s.at" :stop-color="s.colour" />
        </linearGradient>
      </defs>

      <g :fill="faint" font-size="12.5" class="fig">
        <text v-if="!narrow" :x="left - 10" y="12" text-anchor="end">min from lye in</text>
        <g v-for="t in ticks" :key="t">
          <text :x="x(t)" y="12" :text-anchor="t === 0 && narrow ? 'start' : 'middle'">{{ t }}</text>
          <line :x1="x(t)" :x2="x(t)" y1="17" y2="22" :stroke="faint" />
        </g>
        <line :x1="left" :x2="width - right" y1="22" y2="22" :stroke="faint" stroke-opacity=".45" />
      </g>

      <g v-for="(l, i) in forecast.lanes" :key="l.portion">
        <ellipse
          :cx="9"
          :cy="narrow ? laneTop(i) - 12.5 - ghostRoom : laneTop(i) + 15"
          rx="8.5"
          ry="6"
          :fill="l.tint"
          :stroke="ink"
        />
        <text
          :x="24"
          :y="narrow ? laneTop(i) - 8 - ghostRoom : laneTop(i) + 20"
          :fill="ink"
          font-size="15.5"
          font-weight="700"
        >
          {{ l.portion.length > 15 && !narrow ? `${l.portion.slice(0, 14)}…` : l.portion }}
          <title>{{ l.portion }}</title>
        </text>
        <text
          :x="narrow ? width - right : 24"
          :y="narrow ? laneTop(i) - 8 - ghostRoom : laneTop(i) + 38"
          :text-anchor="narrow ? 'end' : 'start'"
          :fill="faint"
          font-size="12.5"
        >
          {{ Math.round(l.share * 100) }} % · {{ l.scented ? 'scented' : 'unscented' }}
        </text>
        <rect
          :x="left"
          :y="laneTop(i)"
          :width="Math.max(width - left - right, 0)"
          :height="tall"
          rx="7"
          :fill="`url(#${id}-lane-${i})`"
          :stroke="bench ? 'none' : 'var(--color-rule)'"
        />
        <g>
          <path
            v-for="t in trails[i]"
            :key="t.stage"
            :d="TRAIL[t.stage]"
            :transform="`translate(${t.at} ${laneTop(i) + tall / 2 - 6})`"
            fill="none"
            :stroke="t.ink"
            stroke-opacity=".55"
            stroke-width="1.8"
            stroke-linecap="round"
          />
        </g>
        <!-- What 80 and 50 in 100 batters do, and the middle one. -->
        <g v-for="b in boundaries[i]" :key="b.stage">
          <line
            :x1="b.low"
            :x2="b.high"
            :y1="laneTop(i) + tall + b.dy"
            :y2="laneTop(i) + tall + b.dy"
            :stroke="faint"
            stroke-opacity=".6"
          />
          <line
            :x1="b.core[0]"
            :x2="b.core[1]"
            :y1="laneTop(i) + tall + b.dy"
            :y2="laneTop(i) + tall + b.dy"
            :stroke="ink"
            stroke-width="3.4"
          />
          <path
            v-if="b.expected !== null"
            :d="`M${b.expected} ${laneTop(i) + tall + b.dy - 5}l4 5l-4 5l-4 -5z`"
            fill="none"
            :stroke="faint"
            stroke-width="1.4"
          />
          <circle
            v-if="!b.beyond"
            :cx="b.mid"
            :cy="laneTop(i) + tall + b.dy"
            r="4.6"
            :fill="b.seen ? ink : bench ? 'var(--color-slate)' : 'var(--color-paper)'"
            :stroke="ink"
            stroke-width="2"
          />
          <g v-if="b.shown" :fill="faint">
            <path
              :d="TRAIL[b.stage]"
              :transform="`translate(${b.labelX - b.label.length * 3.75 - 16} ${laneTop(i) + tall + 20}) scale(.66)`"
              fill="none"
              :stroke="faint"
              stroke-width="2.4"
              stroke-linecap="round"
            />
            <text
              class="fig"
              :x="b.labelX + 2"
              :y="laneTop(i) + tall + 27"
              font-size="12.5"
              text-anchor="middle"
            >
              {{ b.label }}
            </text>
          </g>
        </g>
      </g>

      <g v-for="(g, i) in ghosts" :key="`ghost ${i}`">
        <rect
          :x="left"
          :y="g.y"
          :width="Math.max(width - right - left, 0)"
          :height="GHOST"
          rx="4"
          :fill="`url(#${id}-ghost-${i})`"
          :stroke="ink"
          stroke-dasharray="3 3"
        />
        <text v-if="!narrow" :x="left - 10" :y="g.y + 10" text-anchor="end" font-size="12.5" :fill="faint">
          as turned
        </text>
        <g v-for="s in g.stages" :key="s.stage">
          <circle :cx="s.x" :cy="g.y + GHOST / 2" r="3.6" fill="none" :stroke="ink" stroke-width="1.6" />
          <title>{{ s.stage }} {{ s.said }} min, as turned</title>
        </g>
      </g>

      <g v-if="steps">
        <rect
          v-for="p in prepares"
          :key="p.key"
          :x="p.x"
          :y="p.y"
          :width="p.width"
          :height="FOOT"
          rx="2"
          fill="var(--color-lid)"
          fill-opacity=".85"
          stroke="var(--color-ink)"
          stroke-width=".8"
        >
          <title>{{ p.label }}</title>
        </rect>
        <StepBlock v-for="b in blocks" v-bind="b" :id="id" :key="`${b.step.key}-${b.y}`" />
      </g>

      <g v-for="(m, i) in markAt" :key="i">
        <path :d="`M${m.x - 4} ${m.y - 6}h8l-4 7z`" :fill="ink" />
        <title>{{ m.label }} at {{ minutes(m.minute) }} min</title>
      </g>
      <g v-if="now !== null && now <= forecast.axis">
        <line
          :x1="x(now)"
          :x2="x(now)"
          y1="20"
          :y2="height - spans + 4"
          stroke="var(--color-slate)"
          stroke-width="6"
        />
        <line :x1="x(now)" :x2="x(now)" y1="20" :y2="height - spans + 4" :stroke="ink" stroke-width="2.5" />
        <circle :cx="x(now)" cy="20" r="6" :fill="ink" />
      </g>
    </svg>
    <p
      v-if="!quiet"
      class="flex flex-wrap items-center gap-x-5 text-xs"
      :class="bench ? 'text-mist' : 'text-quiet'"
    >
      <button type="button" class="min-h-6 underline" :aria-expanded="asTable" @click="asTable = !asTable">
        {{ asTable ? 'hide the table' : 'as a table' }}
      </button>
      <span class="max-sm:hidden">thick line: 5 batters in 10, thin line: 8 in 10</span>
      <span v-if="boundaries.some((lane) => lane.some((b) => b.expected !== null))"
        >◇ as forecast without the taps</span
      >
    </p>
    <RibbonTable v-if="asTable" :forecast="forecast" />
  </section>
</template>
