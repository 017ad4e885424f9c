<script setup lang="ts">
/** One pour after its scent went in, as a strip of the ribbon: what was seen when, and how long it was watched. */
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { useElementSize } from '@vueuse/core'
import { inkOn, shade, STAGES, TRAIL, type Stage } from '../ribbon/batter'
import { minutes } from '../support/format'

const props = defineProps<{ seen: Schemas['Seen']; longest: number }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box, { width: 500, height: 0 })

const x = (m: number) => (Math.min(Math.max(m, 0), props.longest) / props.longest) * (width.value - 4)
/** So much of what was seen last is drawn at least: it has no length of its own where the look that saw it was the last. */
const LAST = 76
const pieces = computed(() => {
  const starts = [{ stage: 'emulsion' as Stage, at: 0 }]
  for (const r of props.seen.stages) starts.push({ stage: r.stage as Stage, at: r.minutes })
  return starts
    .map((s, i) => {
      const from = x(s.at)
      const until = x(starts[i + 1]?.at ?? props.seen.watched)
      const to = Math.max(until, i > 0 && i === starts.length - 1 ? from + LAST : from)
      return { ...s, level: STAGES.indexOf(s.stage) + 1, from, width: to - from }
    })
    .filter((p) => p.width > 0.5)
})
const words = computed(() =>
  props.seen.stages
    .map((r) => `${r.stage} ${r.minutes < 0 ? 'before' : `${minutes(r.minutes)} min`}`)
    .concat(`watched ${minutes(Math.max(props.seen.watched, 0))} min`)
    .join(', '),
)
</script>

<template>
  <div ref="box">
    <svg :viewBox="`0 0 ${width} 22`" class="block h-5.5 w-full" role="img" :aria-label="words">
      <g v-for="p in pieces" :key="p.stage">
        <rect
          :x="p.from"
          y="1"
          :width="p.width"
          height="20"
          :fill="shade(p.level)"
          stroke="var(--color-paper)"
        />
        <path
          v-if="p.width > 26"
          :d="TRAIL[p.stage]"
          :transform="`translate(${p.from + 5} 6) scale(.8)`"
          fill="none"
          :stroke="inkOn(p.level)"
          stroke-width="2"
        />
        <text
          v-if="p.at > 0 && p.width > 52"
          :x="p.from + 28"
          y="15.5"
          font-size="12.5"
          class="fig"
          :fill="inkOn(p.level)"
        >
          {{ minutes(p.at) }}
        </text>
      </g>
      <title>{{ words }}</title>
    </svg>
  </div>
</template>
