<script setup lang="ts">
/** What lies under the blocks of a plan: the axis, a lane of batter for each portion, and the mould as it fills. */
import { computed } from 'vue'
import type { Forecast } from '../api/client'
import { at, stopsOf, ticksOf, type Axis } from '../ribbon/axis'
import { shade, TRAIL, trailsOf } from '../ribbon/batter'
import { fills } from './blocks'

const props = defineProps<{
  id: string
  forecast: Forecast
  axis: Axis
  width: number
  height: number
  narrow: boolean
  tall: number
  mould: number
  heads: number
  filled: string
  laneTop: (lane: number) => number
}>()
const count = computed(() => props.forecast.lanes.length)
const batches = computed(() => [...new Set(props.forecast.lanes.map((l) => l.batch))])
const firstOf = (batch: string) => props.forecast.lanes.findIndex((l) => l.batch === batch)
const x = (minute: number) => at(props.axis, minute)
const ticks = computed(() => ticksOf(props.axis, props.narrow ? 56 : 80))
const filling = computed(() =>
  fills(props.forecast, props.axis, props.laneTop(count.value) + props.mould, props.mould - 10),
)
/** Where each stage is likeliest in a lane, as its trail. */
const tick = (t: number) =>
  props.axis.folds?.length && t >= 120
    ? `${Math.floor(t / 60)}:${String(Math.round(t % 60)).padStart(2, '0')}`
    : t
const trails = computed(() =>
  props.forecast.lanes.map((lane) =>
    trailsOf(lane, props.forecast.emulsion.q50, x, props.axis.minutes).filter((t) => t.stage !== 'emulsion'),
  ),
)
</script>

<template>
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
        <text :x="Math.min(x(t), axis.left + axis.width - 20)" y="12" text-anchor="middle">
          {{ tick(t) }}
        </text>
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
      {{ b || 'the pot' }}{{ b ? ', its separate batch of lye' : '' }}
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
      <text v-if="tall > 30" x="28" :y="laneTop(i) + tall / 2 + 14" font-size="12" fill="var(--color-quiet)">
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
        :transform="`translate(${t.at} ${laneTop(i) + 4})`"
        fill="none"
        :stroke="t.ink"
        stroke-opacity=".6"
        stroke-width="1.8"
        stroke-linecap="round"
      />
    </g>
    <g>
      <path
        :d="`M2 ${laneTop(count) + 8}v${mould - 22}h18v-${mould - 22}`"
        fill="none"
        stroke="var(--color-ink)"
        stroke-width="2"
      />
      <text x="28" :y="laneTop(count) + mould / 2 - 4" font-size="14.5" font-weight="700">Mould</text>
      <text x="28" :y="laneTop(count) + mould / 2 + 12" font-size="12" fill="var(--color-quiet)">
        {{ narrow ? '' : filled }}
      </text>
      <polygon v-for="(f, i) in filling" :key="i" :points="f.points" :fill="f.tint" />
      <path
        :d="`M${axis.left} ${laneTop(count)}v${mould}h${axis.width}v-${mould}`"
        fill="none"
        stroke="var(--color-ink)"
        stroke-width="2"
      />
    </g>
  </svg>
</template>
