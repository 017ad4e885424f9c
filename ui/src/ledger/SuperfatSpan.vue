<script setup lang="ts">
/** The superfat as set, as it likely is, and in the worst case, on the same kind of span as the ribbon's boundaries. */
import { computed, ref } from 'vue'
import type { Sheet } from '../api/client'
import { useElementSize } from '@vueuse/core'
import { percent } from '../support/format'

const props = defineProps<{ superfat: Sheet['superfat'] }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box, { width: 300, height: 0 })

const low = computed(() => Math.min(-0.02, Math.floor(props.superfat.extreme.low * 50) / 50))
const high = computed(() => Math.max(0.12, Math.ceil(props.superfat.extreme.high * 50) / 50))
const x = (share: number) => 8 + ((share - low.value) / (high.value - low.value)) * (width.value - 16)
const ticks = computed(() => {
  const from = Math.ceil(low.value / 0.02)
  const to = Math.floor(high.value / 0.02)
  return Array.from({ length: to - from + 1 }, (_, i) => (from + i) * 0.02)
})
</script>

<template>
  <section ref="box" aria-label="Superfat" class="pt-1">
    <p class="sr-only">
      Likely {{ percent(superfat.likely.low) }} to {{ percent(superfat.likely.high) }} percent; worst case
      {{ percent(superfat.extreme.low) }} to {{ percent(superfat.extreme.high) }}.
    </p>
    <svg :viewBox="`0 0 ${width} 34`" class="block h-8.5 w-full" aria-hidden="true">
      <rect :x="0" y="4" :width="Math.max(x(0), 0)" height="12" fill="var(--color-iron)" fill-opacity=".14" />
      <g v-for="t in ticks" :key="t" fill="var(--color-quiet)" font-size="11.5" class="fig">
        <line
          :x1="x(t)"
          :x2="x(t)"
          y1="15"
          y2="19"
          :stroke="Math.abs(t) < 0.001 ? 'var(--color-iron)' : 'var(--color-quiet)'"
        />
        <text :x="x(t)" y="31" text-anchor="middle">{{ Math.round(t * 100) }}</text>
      </g>
      <line
        :x1="x(superfat.extreme.low)"
        :x2="x(superfat.extreme.high)"
        y1="10"
        y2="10"
        stroke="var(--color-quiet)"
      />
      <line
        :x1="x(superfat.likely.low)"
        :x2="x(superfat.likely.high)"
        y1="10"
        y2="10"
        stroke="var(--color-ink)"
        stroke-width="3.4"
      />
      <circle
        :cx="x(superfat.set)"
        cy="10"
        r="4.6"
        fill="var(--color-paper)"
        stroke="var(--color-ink)"
        stroke-width="2"
      />
    </svg>
  </section>
</template>
