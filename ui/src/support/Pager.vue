<script setup lang="ts">
/** Where in a long list one is, and the way on and back. */
import { PAGE } from '../api/queries'

defineProps<{ total: number }>()
const first = defineModel<number>({ required: true })
</script>

<template>
  <nav v-if="total > PAGE" class="flex items-center gap-4 py-3" aria-label="Pages">
    <button type="button" class="key" :disabled="first === 0" @click="first = Math.max(0, first - PAGE)">
      Newer
    </button>
    <span class="fig text-sm text-quiet"
      >{{ first + 1 }}–{{ Math.min(first + PAGE, total) }} of {{ total }}</span
    >
    <button type="button" class="key" :disabled="first + PAGE >= total" @click="first += PAGE">Older</button>
  </nav>
</template>
