<script setup lang="ts">
/** Below a lane: when each stage comes, what 80 and 50 in 100 batters do, and the middle one. */
import { computed } from 'vue'
import type { Forecast } from '../api/client'
import { minutes } from '../support/format'
import { at, type Axis } from './axis'
import { movedFrom, TRAIL, type Stage } from './batter'

const props = defineProps<{
  lane: Forecast['lanes'][number]
  axis: Axis
  /** px at which the lane ends below. */
  foot: number
  /** px at which all ends on the right. */
  width: number
  ink: string
  faint: string
  bench: boolean
}>()
const x = (minute: number) => at(props.axis, minute)

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

const boundaries = computed<Boundary[]>(() => {
  let free = props.axis.left - 20
  return props.lane.stages
    .filter((s) => s.time.q10 < props.axis.minutes)
    .map((s, n) => {
      const beyond = s.time.q50 > props.axis.minutes
      const mid = x(s.seen ?? s.time.q50)
      const said = s.seen ?? s.time.q50
      const label = beyond ? `${s.stage} ${minutes(said)} →` : `${s.stage} ${minutes(said)}`
      const half = label.length * 3.8 + 17
      const labelX = Math.min(Math.max(mid, props.axis.left + half), props.width - half - 2)
      const shown = labelX - half > free
      if (shown) free = labelX + half + 4
      const was = movedFrom(s, props.axis.minutes)
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
        expected: was === null ? null : x(was),
      }
    })
})
</script>

<template>
  <g v-for="b in boundaries" :key="b.stage">
    <line :x1="b.low" :x2="b.high" :y1="foot + b.dy" :y2="foot + b.dy" :stroke="faint" stroke-opacity=".6" />
    <line
      :x1="b.core[0]"
      :x2="b.core[1]"
      :y1="foot + b.dy"
      :y2="foot + b.dy"
      :stroke="ink"
      stroke-width="3.4"
    />
    <path
      v-if="b.expected !== null"
      :d="`M${b.expected} ${foot + b.dy - 5}l4 5l-4 5l-4 -5z`"
      fill="none"
      :stroke="faint"
      stroke-width="1.4"
    />
    <circle
      v-if="!b.beyond"
      :cx="b.mid"
      :cy="foot + b.dy"
      r="4.6"
      :fill="b.seen ? ink : bench ? 'var(--color-slate)' : 'var(--color-paper)'"
      :stroke="ink"
      stroke-width="2"
    />
    <g v-if="b.shown" :fill="faint">
      <path
        :d="TRAIL[b.stage]"
        :transform="`translate(${b.labelX - b.label.length * 3.75 - 16} ${foot + 20}) scale(.66)`"
        fill="none"
        :stroke="faint"
        stroke-width="2.4"
        stroke-linecap="round"
      />
      <text class="fig" :x="b.labelX + 2" :y="foot + 27" font-size="12.5" text-anchor="middle">
        {{ b.label }}
      </text>
    </g>
  </g>
</template>
