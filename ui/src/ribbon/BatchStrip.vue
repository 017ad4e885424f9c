<script setup lang="ts">
/** A batch as two small ribbons on one axis of minutes: above what was foretold, below what was seen. */
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { shade, STAGES } from './batter'
import { fixed } from '../support/decimal'

const props = defineProps<{
  foretold: Schemas['Foretold'] | null
  seen: Schemas['SeenStrip']
  minutes: number
}>()
const x = (minute: number) => `${(100 * Math.min(Math.max(minute, 0), props.minutes)) / props.minutes}%`
/** Middles of light, medium, thick and set, each the start of the next shade. */
const above = computed(() => {
  const f = props.foretold
  if (!f) return ''
  const stops = f.middles.map((m, n) => `${shade(n + 2)} ${x(m)}`)
  return `linear-gradient(90deg, ${shade(0.6)} 0%, ${stops.join(', ')})`
})
const below = computed(() => {
  const looks = [...props.seen.looks].sort((a, b) => a.minute - b.minute)
  if (!looks.length) return shade(0.8)
  let most = 0
  const stops = looks.map(({ minute, level }) => {
    most = Math.max(most, level)
    return `${shade(most)} ${(100 * minute) / Math.max(props.seen.end, 0.1)}%`
  })
  return `linear-gradient(90deg, ${shade(0.6)} 0%, ${stops.join(', ')})`
})
const message = computed(() => {
  const looks = props.seen.looks.map(({ minute, level }) => `${STAGES[level - 1]} at ${fixed(minute, 1)}`)
  return `Seen: ${looks.join(', ') || 'nothing'} min`
})
</script>

<template>
  <span class="relative block h-10" role="img" :aria-label="message" :title="message">
    <span
      v-if="foretold"
      class="absolute inset-x-0 top-0 h-4 rounded-xs border border-rule"
      :style="{ background: above }"
    />
    <span v-else class="note absolute top-0 leading-4">nothing was foretold</span>
    <span
      v-if="foretold?.pour"
      class="absolute top-0 h-4 rounded-xs border-[1.5px] border-ink bg-chalk/45"
      :style="{
        left: x(foretold.pour.low),
        width: `calc(${x(foretold.pour.high)} - ${x(foretold.pour.low)})`,
      }"
    />
    <template v-if="foretold">
      <span
        v-for="(s, n) in foretold.spans"
        :key="n"
        class="absolute top-[1.15rem] h-[3px] bg-quiet"
        :style="{ left: x(s.low), width: `calc(${x(s.high)} - ${x(s.low)})` }"
      />
    </template>
    <span
      class="absolute bottom-0 left-0 h-4 rounded-xs border-[1.5px] border-ink"
      :style="{ width: x(seen.end), background: below }"
    />
    <span
      v-for="(l, n) in seen.looks"
      :key="`d${n}`"
      class="absolute top-[1rem] size-[7px] -translate-x-1/2 rounded-full border border-paper bg-ink"
      :style="{ left: x(l.minute) }"
    />
  </span>
</template>
