<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import Anywhere from './find/Anywhere.vue'
import AppHeader from './support/AppHeader.vue'
import { me } from './support/me'

const route = useRoute()
const anywhere = ref<InstanceType<typeof Anywhere> | null>(null)
const bench = computed(() => ['pour', 'practice-pour', 'ready'].includes(String(route.name)))
</script>

<template>
  <a href="#main" class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-chalk focus:p-2">
    Skip to the page
  </a>
  <AppHeader v-if="!bench && me.role !== null" @find="anywhere?.find()" />
  <Anywhere v-if="me.role === 'maker'" ref="anywhere" />
  <main id="main">
    <RouterView v-slot="{ Component }">
      <component :is="Component" :key="String(route.params.id ?? route.name)" />
    </RouterView>
  </main>
</template>
