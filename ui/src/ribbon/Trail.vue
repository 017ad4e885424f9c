<script setup lang="ts">
import { TRAIL, type Stage } from './batter'

defineProps<{ stage: Stage }>()
</script>

<template>
  <svg viewBox="0 0 24 12" aria-hidden="true">
    <path :d="TRAIL[stage]" fill="none" stroke="currentColor" stroke-width="2" stroke-linecap="round" />
  </svg>
</template>
