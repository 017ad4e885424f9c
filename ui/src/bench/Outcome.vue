<script setup lang="ts">
/** The face it leads to as things stand, and the three ways it may come out. */
import type { Schemas } from '../api/client'
import CutFace from '../support/CutFace.vue'

/** `face` is empty where there is no room for it. */
defineProps<{ outlook: Schemas['Outlook']; technique: string; face: string }>()
const hundred = (share: number) => Math.round(100 * share)
</script>

<template>
  <section class="flex min-h-0 items-center gap-4 overflow-hidden max-sm:gap-2" aria-label="As things stand">
    <CutFace
      v-if="face"
      :code="face"
      :width="170"
      class="max-h-full rounded"
      :message="`The cut face of the ${technique.toLowerCase()} as things stand`"
    />
    <div class="min-w-24 flex-1 leading-snug">
      <div class="flex h-4 overflow-hidden rounded-sm" aria-hidden="true">
        <span class="bg-bone" :style="{ width: `${100 * outlook.drawn}%` }" />
        <span class="out-different" :style="{ width: `${100 * outlook.different}%` }" />
        <span class="bg-coral" :style="{ width: `${100 * outlook.lost}%` }" />
      </div>
      <p class="max-sm:flex max-sm:justify-between max-sm:gap-1 max-sm:text-xs max-sm:whitespace-nowrap">
        <span class="block"
          ><b class="text-2xl max-sm:text-base">{{ hundred(outlook.drawn) }} %</b> as planned</span
        >
        <span class="block"
          ><b>{{ hundred(outlook.different) }} %</b> sellable</span
        >
        <span class="block"
          ><b class="text-coral">{{ hundred(outlook.lost) }} %</b> lost</span
        >
      </p>
    </div>
  </section>
</template>

<style scoped>
.out-different {
  background: repeating-linear-gradient(45deg, var(--color-murk) 0 4px, var(--color-dusk) 4px 7px);
}
</style>
