<script setup lang="ts">
import { computed } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import AppHeader from './support/AppHeader.vue'

const route = useRoute()
const bench = computed(() => ['pour', 'practice-pour', 'ready'].includes(String(route.name)))
</script>

<template>
  <a href="#main" class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-chalk focus:p-2">
    Skip to the page
  </a>
  <AppHeader v-if="!bench" />
  <main id="main">
    <RouterView v-slot="{ Component }">
      <component :is="Component" :key="String(route.params.id ?? route.name)" />
    </RouterView>
  </main>
</template>
