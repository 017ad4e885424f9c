<script setup lang="ts">
/** As planned, different but sellable, lost: one bar, the same figures as the words beside it. */
import { computed } from 'vue'
import type { Schemas } from '../api/client'

const props = defineProps<{ outlook: Schemas['Outlook'] }>()
const parts = computed(() => {
  const { drawn, different, lost } = props.outlook
  return [
    { key: 'drawn', at: 0, share: drawn },
    { key: 'different', at: drawn, share: different },
    { key: 'lost', at: drawn + different, share: lost },
  ]
})
const FILL: Record<string, string> = {
  drawn: 'var(--color-good)',
  different: 'var(--color-shift)',
  lost: 'var(--color-iron)',
}
const said = computed(() =>
  [
    `as planned ${Math.round(100 * props.outlook.drawn)} %`,
    `different but sellable ${Math.round(100 * props.outlook.different)}`,
    `lost ${Math.round(100 * props.outlook.lost)}`,
  ].join(', '),
)
</script>

<template>
  <svg viewBox="0 0 100 8" preserveAspectRatio="none" class="h-2.5 w-full" role="img" :aria-label="said">
    <rect
      v-for="p in parts"
      :key="p.key"
      :x="100 * p.at"
      y="0"
      :width="Math.max(100 * p.share, 0)"
      height="8"
      :fill="FILL[p.key]"
    />
  </svg>
</template>
