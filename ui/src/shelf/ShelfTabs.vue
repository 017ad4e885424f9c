<script setup lang="ts">
/** The shelf's boards. */
import { useRoute } from 'vue-router'

const BOARDS = [
  ['/shelf', 'Fragrances'],
  ['/ingredients', 'Ingredients'],
  ['/colours', 'Colours'],
  ['/stock', 'Stock and prices'],
  ['/others', 'Other workshops'],
] as const
const route = useRoute()
</script>

<template>
  <h1 class="sr-only">{{ BOARDS.find(([to]) => to === route.path)?.[1] }}</h1>
  <nav class="flex flex-wrap gap-x-5 pb-3" aria-label="Shelf">
    <RouterLink
      v-for="[to, words] in BOARDS"
      :key="to"
      :to="to"
      class="border-b-3 border-transparent text-xl text-quiet max-sm:text-base hover:text-ink"
      exact-active-class="!border-ink font-bold !text-ink"
    >
      {{ words }}
    </RouterLink>
  </nav>
</template>
