<script setup lang="ts">
/** How many times as soon medium trace comes with a fragrance: claimed above, learned below, on one axis of doublings. */
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
const rows = computed(() => {
  if (!props.file) return []
  const claimed = { ...props.file.claimed, y: props.small ? 7 : 14, own: false }
  const learned = { ...props.file.learned, y: props.small ? 17 : 40, own: true }
  // A blend is known by its parts' pours before it was ever poured itself.
  return props.file.pours.length || props.file.evidence > 0.01 ? [claimed, learned] : [claimed]
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
          :stroke="r.own ? 'var(--color-ink)' : 'var(--color-quiet)'"
          :stroke-width="r.own ? 3.6 : 1.6"
          :stroke-dasharray="r.own ? undefined : '4 3'"
        />
        <circle
          :cx="x(r.mid)"
          :cy="r.y"
          r="4.4"
          :fill="r.own ? 'var(--color-ink)' : 'var(--color-paper)'"
          stroke="var(--color-ink)"
          stroke-width="1.8"
        />
      </g>
    </svg>
  </div>
</template>
