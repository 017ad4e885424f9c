<script setup lang="ts">
/** The foot of a block: how often it comes as planned, how often too thick, too thin, or lost. */
import type { Block } from './blocks'

defineProps<{ block: Block; id: string }>()
</script>

<template>
  <svg
    class="absolute inset-x-0 bottom-0 h-2 w-full"
    viewBox="0 0 100 8"
    preserveAspectRatio="none"
    aria-hidden="true"
  >
    <rect width="100" height="8" fill="var(--color-chalk)" />
    <rect :width="100 * block.odds" height="8" fill="var(--color-good)" />
    <rect :x="100 * block.odds" :width="100 * block.thick" height="8" :fill="`url(#${id}-hatch)`" />
    <rect
      :x="100 * (block.odds + block.thick)"
      :width="100 * block.thin"
      height="8"
      :fill="`url(#${id}-dots)`"
    />
    <rect
      v-if="block.lost > 0.005"
      :x="100 - 100 * block.lost"
      :width="100 * block.lost"
      height="8"
      fill="var(--color-iron)"
    />
    <defs>
      <pattern :id="`${id}-hatch`" width="6" height="8" patternUnits="userSpaceOnUse">
        <rect width="6" height="8" fill="var(--color-hatch)" />
        <path d="M-1 9L7 -1" stroke="var(--color-quiet)" stroke-width="1.6" />
      </pattern>
      <pattern :id="`${id}-dots`" width="6" height="5" patternUnits="userSpaceOnUse">
        <rect width="6" height="5" fill="var(--color-dots)" />
        <circle cx="2.5" cy="2.5" r="1.3" fill="var(--color-quiet)" />
      </pattern>
    </defs>
  </svg>
</template>
