<script setup lang="ts">
/** The top seen from above: what is made of it, what lies on it, and where the wires go. */
import { computed } from 'vue'
import type { Schemas } from '../api/client'

const props = defineProps<{
  top: Schemas['FromAbove']
  cuts: Schemas['CutPlan']
  toppings: readonly Schemas['Placement'][]
}>()
const LINES = 7
const ground = computed(() => props.top.tints[0] ?? '#e9dcc2')
const others = computed(() => (props.top.tints.length > 1 ? props.top.tints.slice(1) : [ground.value]))
const tint = (n: number) => others.value[n % others.value.length] ?? ground.value
/** A line along the mould at a depth, with so many waves of a height; `sharp` ones have corners. */
function along(y: number, waves: number, high: number, sharp = false): string {
  const { long } = props.top
  const points = Array.from({ length: waves * (sharp ? 2 : 8) + 1 }, (_, i) => {
    const part = i / (waves * (sharp ? 2 : 8))
    const rise = sharp ? (i % 2 ? -1 : 1) : Math.sin(2 * Math.PI * waves * part)
    return `${(long * part).toFixed(1)},${(y + high * rise).toFixed(1)}`
  })
  return `M${points.join('L')}`
}
interface Stroke {
  d: string
  tint: string
  wide: number
}
const strokes = computed<Stroke[]>(() => {
  const { long, wide, texture } = props.top
  const waves = Math.max(2, Math.round(long / 45))
  const rows = Array.from({ length: LINES }, (_, n) => ({ n, y: ((n + 0.5) * wide) / LINES }))
  const gap = wide / LINES
  if (texture === 'combed' || texture === 'scrolls')
    return rows.map(({ n, y }) => ({
      d: along(y, waves, gap / (texture === 'combed' ? 6 : 2.4)),
      tint: tint(n),
      wide: gap / 3,
    }))
  if (texture === 'peaks' || texture === 'sculpted')
    return rows.map(({ n, y }) => ({ d: along(y, waves * 3, gap / 3, true), tint: tint(n), wide: gap / 5 }))
  if (texture === 'spooned')
    return rows.map(({ n, y }) => ({ d: along(y, waves, gap / 1.6), tint: tint(n), wide: gap / 1.8 }))
  if (texture === 'drizzle')
    return [{ d: along(wide / 2, waves * 3, wide / 2.3, true), tint: tint(0), wide: 2.2 }]
  if (texture === 'drawn line' || texture === 'mica line')
    return rows.slice(2, 5).map(({ n, y }) => ({ d: along(y, waves, gap / 4), tint: tint(n), wide: 1.6 }))
  if (texture === 'as poured')
    return rows
      .filter(({ n }) => n % 2)
      .map(({ n, y }) => ({ d: along(y, waves, gap), tint: tint(n >> 1), wide: gap / 1.5 }))
  return []
})
const specks = computed(() => {
  const { long, wide, texture } = props.top
  const small = ({ dots: 4, glitter: 0.9, botanicals: 2 } as Record<string, number>)[texture]
  if (!small) return []
  const many = Math.round((long * wide) / (texture === 'dots' ? 420 : 110))
  // A lattice of the golden ratio: even, and the same each time.
  return Array.from({ length: many }, (_, i) => ({
    x: (((i + 0.5) * 0.6180339887) % 1) * long,
    y: ((i + 0.5) / many) * wide,
    r: small,
    tint: texture === 'glitter' ? '#f4ead0' : tint(i),
  }))
})
const bars = computed(() => {
  const { wires, step, lean } = props.cuts
  const first = wires[0] ?? 0
  const many = Math.round((props.top.long - 2 * props.cuts.ends - lean) / step)
  const from = props.cuts.ends < 1e-6 && !lean ? 0 : first
  return Array.from({ length: many }, (_, i) => ({ n: i + 1, x: from + (i + 0.5) * step }))
})
const named = (n: number) => bars.value.length <= 14 || n === 1 || n % 5 === 0
</script>

<template>
  <figure
    class="mx-auto w-full"
    :style="{ maxWidth: `${((16 * (top.long + 4)) / (top.wide + 14)).toFixed(1)}rem` }"
  >
    <svg
      :viewBox="`-2 -10 ${top.long + 4} ${top.wide + 14}`"
      class="block max-h-64 w-full"
      role="img"
      :aria-label="[cuts.message, ...toppings.map((t) => t.told)].join('. ')"
    >
      <defs>
        <clipPath id="block"><rect :width="top.long" :height="top.wide" rx="2" /></clipPath>
      </defs>
      <g clip-path="url(#block)">
        <rect :width="top.long" :height="top.wide" :fill="ground" />
        <path
          v-for="(s, n) in strokes"
          :key="`s${n}`"
          :d="s.d"
          fill="none"
          :stroke="s.tint"
          :stroke-width="s.wide"
          stroke-linecap="round"
          :opacity="s.tint === ground ? 0.35 : 0.92"
          :style="s.tint === ground ? 'filter: brightness(.7)' : ''"
        />
        <circle v-for="(s, n) in specks" :key="`c${n}`" :cx="s.x" :cy="s.y" :r="s.r" :fill="s.tint" />
        <template v-for="t in toppings" :key="t.name">
          <circle
            v-for="(at, n) in t.at"
            :key="n"
            :cx="at.along"
            :cy="at.across"
            :r="t.wide / 2"
            :fill="t.tint"
            :stroke="t.message ? 'var(--color-iron)' : '#00000066'"
            :stroke-width="t.message ? 1.6 : 0.6"
          />
        </template>
      </g>
      <rect
        :width="top.long"
        :height="top.wide"
        rx="2"
        fill="none"
        stroke="var(--color-ink)"
        stroke-width="1.2"
      />
      <line
        v-for="w in cuts.wires"
        :key="w"
        :x1="w"
        :x2="w + cuts.lean"
        :y1="top.wide + 1"
        y2="-1"
        stroke="var(--color-ink)"
        stroke-width=".9"
        stroke-dasharray="3 2.5"
      />
      <line
        v-for="a in cuts.across"
        :key="`a ${a}`"
        :y1="a"
        :y2="a"
        x1="0"
        :x2="top.long"
        stroke="var(--color-ink)"
        stroke-width=".9"
        stroke-dasharray="3 2.5"
      />
      <template v-for="b in bars" :key="`n${b.n}`">
        <text
          v-if="named(b.n)"
          :x="b.x + cuts.lean"
          y="-3"
          text-anchor="middle"
          font-size="6"
          fill="var(--color-ink)"
        >
          {{ b.n }}
        </text>
      </template>
    </svg>
    <figcaption class="note flex justify-between">
      <span>left end</span><span>front, nearest you</span><span>right end</span>
    </figcaption>
  </figure>
</template>
