<script setup lang="ts">
/** The face it leads to as things stand, and the three ways it may come out. */
import type { Forecast } from '../api/client'
import CutFace from '../support/CutFace.vue'
import { useSettled } from '../support/useSettled'

const props = defineProps<{ forecast: Forecast; technique: string; narrow: boolean; shown: boolean }>()
const face = useSettled(() => props.forecast.faces.cut)
const hundred = (share: number) => Math.round(100 * share)
</script>

<template>
  <section class="flex min-h-0 items-center gap-4 overflow-hidden max-sm:gap-2" aria-label="As things stand">
    <CutFace
      v-if="shown && !narrow"
      :code="face"
      :width="170"
      class="max-h-full rounded"
      :says="`The cut face of the ${technique.toLowerCase()} as things stand`"
    />
    <div class="min-w-24 flex-1 leading-snug">
      <div class="flex h-4 overflow-hidden rounded-sm" aria-hidden="true">
        <span class="bg-bone" :style="{ width: `${100 * forecast.outlook.drawn}%` }" />
        <span class="out-different" :style="{ width: `${100 * forecast.outlook.different}%` }" />
        <span class="bg-[#f08a80]" :style="{ width: `${100 * forecast.outlook.lost}%` }" />
      </div>
      <p class="max-sm:flex max-sm:gap-2 max-sm:text-sm">
        <span class="block"
          ><b class="text-2xl max-sm:text-base">{{ hundred(forecast.outlook.drawn) }}</b> as drawn</span
        >
        <span class="block"
          ><b>{{ hundred(forecast.outlook.different) }}</b> different</span
        >
        <span class="block"
          ><b class="text-[#f08a80]">{{ hundred(forecast.outlook.lost) }}</b> lost</span
        >
      </p>
    </div>
  </section>
</template>

<style scoped>
.out-different {
  background: repeating-linear-gradient(45deg, #5d7278 0 4px, #2a3a40 4px 7px);
}
</style>
