<script setup lang="ts">
/** One thing in a vessel: its name, what the scale shows, its dose, and the cross that takes it out. */
import type { Line } from '../api/client'
import { grams } from './format'

defineProps<{ name: string; line?: Line }>()
const emit = defineEmits<{ out: [] }>()
</script>

<template>
  <div class="ledger-row">
    <span class="min-w-0 leading-tight text-balance">
      <slot name="name">{{ name }}</slot>
    </span>
    <slot name="weight">
      <span class="fig text-right font-semibold">
        {{ line ? grams(line.grams) : '—' }} <span class="unit">g</span>
      </span>
    </slot>
    <slot />
    <button type="button" class="take-out" :aria-label="`Take out ${name}`" @click="emit('out')">×</button>
  </div>
</template>
