<script setup lang="ts">
/** A portion's colour as a pebble, on the screen and on paper. */
defineProps<{ tint: string }>()
</script>

<template>
  <svg viewBox="0 0 14 10" class="inline-block w-3.5 shrink-0" aria-hidden="true">
    <ellipse cx="7" cy="5" rx="6.4" ry="4.5" :fill="tint" stroke="currentColor" stroke-width=".8" />
  </svg>
</template>
