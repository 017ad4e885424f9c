<script setup lang="ts">
/** What a marked bar weighs: the band it is thought to keep to, and what the scale said. */
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { weight } from '../support/quantity'

const props = defineProps<{ bars: Schemas['BarKind'] }>()
const [W, H, L, B] = [460, 150, 46, 22]
const END = 56 // days that are drawn
const first = computed(() => props.bars.curve.first ?? props.bars.grams ?? 100)
const relative = computed(() => props.bars.curve.first === null && props.bars.grams === null)
const low = computed(() => {
  const weighed = props.bars.weighed.flat().map((w) => w.grams / first.value)
  return Math.min(...props.bars.curve.low, ...weighed) - 0.01
})
const high = computed(
  () => Math.max(1, ...props.bars.weighed.flat().map((w) => w.grams / first.value)) + 0.01,
)
const x = (days: number) => L + (Math.min(Math.max(days, 0), END) / END) * (W - L - 8)
const y = (share: number) => 6 + ((high.value - share) / (high.value - low.value)) * (H - B - 6)
const line = (shares: readonly number[]) =>
  props.bars.curve.days
    .map((d, n) => [d, shares[n] as number] as const)
    .filter(([d]) => d <= END)
    .map(([d, s]) => `${x(d).toFixed(1)} ${y(s).toFixed(1)}`)
const band = computed(
  () => `M${line(props.bars.curve.high).join('L')}L${line(props.bars.curve.low).reverse().join('L')}Z`,
)
const marks = computed(() => {
  const out: { y: number; words: string }[] = []
  for (let n = 0; n < 4; n++) {
    const share = high.value - 0.01 - (n * (high.value - low.value - 0.02)) / 3
    const words = relative.value ? `${Math.round(share * 100)} %` : weight(Math.round(share * first.value))
    out.push({ y: y(share), words })
  }
  return out
})
const done = computed(() => props.bars.curve.done)
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" class="w-full" role="img" aria-label="What a bar weighs as it cures">
    <g v-for="m in marks" :key="m.y">
      <line :x1="L" :x2="W - 8" :y1="m.y" :y2="m.y" stroke="var(--color-rule)" />
      <text :x="L - 6" :y="m.y + 4" text-anchor="end" font-size="12" fill="var(--color-quiet)">
        {{ m.words }}
      </text>
    </g>
    <path :d="band" fill="var(--color-band)" opacity="0.45" />
    <path
      :d="`M${line(bars.curve.mid).join('L')}`"
      fill="none"
      stroke="var(--color-stir)"
      stroke-width="2.5"
    />
    <template v-for="(bar, i) in bars.weighed" :key="i">
      <circle
        v-for="(w, n) in bar"
        :key="n"
        :cx="x(w.days)"
        :cy="y(w.grams / first)"
        r="4.5"
        fill="var(--color-chalk)"
        stroke="var(--color-ink)"
        stroke-width="2"
      />
    </template>
    <line
      :x1="x(done.low)"
      :x2="x(done.high)"
      :y1="H - B + 4"
      :y2="H - B + 4"
      stroke="var(--color-ink)"
      stroke-width="4"
    />
    <g v-for="week in [0, 1, 2, 3, 4, 5, 6, 7, 8]" :key="week">
      <text
        :x="x(week * 7)"
        :y="H - 2"
        font-size="12"
        :text-anchor="week === 8 ? 'end' : 'middle'"
        fill="var(--color-quiet)"
      >
        {{ week === 0 ? 'cut' : week === 8 ? '8 wk' : week }}
      </text>
    </g>
  </svg>
</template>
