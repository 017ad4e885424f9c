<script setup lang="ts">
/** How many times as soon medium trace comes with a fragrance: claimed, heard of others, learned; on one axis of doublings. */
import { computed, ref } from 'vue'
import type { FragranceFile } from '../api/client'
import { useElementSize } from '@vueuse/core'
import { written } from '../support/decimal'

const props = defineProps<{ file?: FragranceFile; small?: boolean }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box, { width: 400, height: 0 })

const MARKS = [0.5, 1, 2, 4, 8, 16, 32]
const x = (ratio: number) => {
  const at =
    (Math.log2(Math.min(Math.max(ratio, 0.42), 40)) - Math.log2(0.42)) / (Math.log2(40) - Math.log2(0.42))
  return 6 + at * (width.value - 12)
}
const DRAWN = {
  claimed: { ink: 'var(--color-quiet)', line: 1.6, dash: '4 3', dot: 'var(--color-paper)' },
  heard: { ink: 'var(--color-quiet)', line: 3.2, dash: undefined, dot: 'var(--color-quiet)' },
  own: { ink: 'var(--color-ink)', line: 3.6, dash: undefined, dot: 'var(--color-ink)' },
}
const rows = computed(() => {
  if (!props.file) return []
  const f = props.file
  // A blend is known by its parts' pours before it was ever poured itself.
  const own = f.pours.length > 0 || f.evidence > 0.01
  const told = [
    { ...f.claimed, whose: 'claimed' },
    ...(f.heard ? [{ ...f.heard, whose: 'heard' }] : []),
    ...(own ? [{ ...f.learned, whose: 'own' }] : []),
  ]
  const [first, apart] = props.small ? [6, told.length > 2 ? 6.5 : 11] : [12, told.length > 2 ? 16 : 28]
  return told.map((r, i) => ({ ...r, y: first + i * apart, ...DRAWN[r.whose as keyof typeof DRAWN] }))
})
const height = computed(() => (props.small ? 24 : 76))
</script>

<template>
  <div ref="box">
    <svg :viewBox="`0 0 ${width} ${height}`" :height="height" class="block w-full" aria-hidden="true">
      <g v-for="m in MARKS" :key="m">
        <line
          :x1="x(m)"
          :x2="x(m)"
          y1="0"
          :y2="!file ? 6 : small ? height : 56"
          stroke="var(--color-quiet)"
          :stroke-opacity="m === 1 ? 0.9 : 0.25"
        />
        <text
          v-if="!small || !file"
          :x="x(m)"
          :y="small ? 20 : 72"
          font-size="12.5"
          text-anchor="middle"
          fill="var(--color-quiet)"
          class="fig"
        >
          {{ m === 1 ? (small ? 'unscented' : 'as soon as unscented') : `${written(m)}×` }}
        </text>
      </g>
      <g v-for="r in rows" :key="r.y">
        <line
          :x1="x(r.low)"
          :x2="x(r.high)"
          :y1="r.y"
          :y2="r.y"
          :stroke="r.ink"
          :stroke-width="r.line"
          :stroke-dasharray="r.dash"
        />
        <circle
          :cx="x(r.mid)"
          :cy="r.y"
          r="4.4"
          :fill="r.dot"
          :stroke="r.whose === 'heard' ? r.ink : 'var(--color-ink)'"
          stroke-width="1.8"
        />
      </g>
    </svg>
  </div>
</template>
