<script setup lang="ts">
/** Minutes sooner or later as a bar from the middle, beside others whose `widest` fills its half. */
import { computed } from 'vue'

const props = defineProps<{ minutes: number; widest: number }>()
const length = computed(() => (Math.abs(props.minutes) / props.widest) * 50)
</script>

<template>
  <svg viewBox="0 0 100 12" preserveAspectRatio="none" class="h-3 w-full" aria-hidden="true">
    <rect
      :x="minutes < 0 ? 50 - length : 50"
      y="1"
      :width="length"
      height="10"
      :fill="minutes < 0 ? 'var(--color-pot)' : 'var(--color-stir)'"
    />
    <line x1="50" x2="50" y1="0" y2="12" stroke="var(--color-quiet)" stroke-width=".4" />
  </svg>
</template>
