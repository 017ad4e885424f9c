<script setup lang="ts">
import { computed, ref } from 'vue'
import { RouterView, useRoute } from 'vue-router'
import Anywhere from './find/Anywhere.vue'
import AppHeader from './support/AppHeader.vue'
import { me } from './support/me'
import { renewed } from './support/renewed'

const route = useRoute()
const anywhere = ref<InstanceType<typeof Anywhere> | null>(null)
const anew = () => window.location.reload()
const bench = computed(() => ['pour', 'practice-pour', 'ready'].includes(String(route.name)))
</script>

<template>
  <a href="#main" class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-chalk focus:p-2">
    Skip to the page
  </a>
  <p v-if="renewed && !bench" class="bg-ink px-6 py-2 text-chalk" role="alert" data-test="renewed">
    Round Stone was renewed.
    <button type="button" class="font-semibold underline" @click="anew">Load this page anew</button>
  </p>
  <AppHeader v-if="!bench && me.role !== null" @find="anywhere?.find()" />
  <Anywhere v-if="me.role === 'maker'" ref="anywhere" />
  <main id="main">
    <RouterView v-slot="{ Component }">
      <component
        :is="Component"
        :key="`${String(route.params.id ?? route.name)} ${String(route.query.day ?? '')}`"
      />
    </RouterView>
  </main>
</template>
