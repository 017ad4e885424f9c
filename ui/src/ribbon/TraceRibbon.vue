<script setup lang="ts">
/**
 * The trace ribbon: minutes from when the lye meets the fats, one lane of batter per portion, its stages as
 * shades with boundaries as soft as they are uncertain, and the design's steps standing on it with their odds.
 */
import { computed, ref, useId } from 'vue'
import type { Forecast } from '../api/client'
import { useElementSize } from '@vueuse/core'
import { minutes } from '../support/format'
import { at, stopsOf, ticksOf, type Axis } from './axis'
import { movedFrom, shade, TRAIL, trailsOf } from './batter'
import RibbonTable from './RibbonTable.vue'
import StageSpans from './StageSpans.vue'
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
const { width } = useElementSize(box, { width: 1000, height: 0 })
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

/** Whether a tap has moved a stage that is still to come. */
const parted = computed(() =>
  props.forecast.lanes.some((lane) => lane.stages.some((s) => movedFrom(s, props.forecast.axis) !== null)),
)
const planEnd = computed(() => x(props.forecast.steps.at(-1)?.end ?? 0))

/** Where in a lane each stage is likeliest, if there is room to draw its trail there. */
const trails = computed(() =>
  props.forecast.lanes.map((lane) =>
    trailsOf(lane, props.forecast.emulsion.q50, x, props.forecast.axis).filter(
      (t) => !props.steps || t.at >= planEnd.value + 4,
    ),
  ),
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
        <StageSpans
          :lane="l"
          :axis="axis"
          :foot="laneTop(i) + tall"
          :width="width"
          :ink="ink"
          :faint="faint"
          :bench="bench"
        />
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
          with this change
        </text>
        <g v-for="s in g.stages" :key="s.stage">
          <circle :cx="s.x" :cy="g.y + GHOST / 2" r="3.6" fill="none" :stroke="ink" stroke-width="1.6" />
          <title>{{ s.stage }} {{ s.said }} min, with this change</title>
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
      <span v-if="parted">◇ as forecast without the taps</span>
    </p>
    <RibbonTable v-if="asTable" :forecast="forecast" />
  </section>
</template>
