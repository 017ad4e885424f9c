<script setup lang="ts">
import { computed } from 'vue'
import { usePours } from '../api/queries'
import { day, minutes } from '../parts/format'

const { data, isPending, error } = usePours()
const pours = computed(() => data.value?.pours ?? [])
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <h1 class="text-3xl font-bold">Pours</h1>
    <p v-if="error" class="says pt-4" role="alert">{{ error.message }}</p>
    <p v-else-if="!isPending && !pours.length" class="py-8 text-lg">
      Nothing poured yet. Open a <RouterLink to="/" class="underline">recipe</RouterLink> and start its pour.
    </p>
    <ol class="mt-4 border-t-3 border-ink">
      <li
        v-for="p in pours"
        :key="p.id"
        class="row grid grid-cols-[minmax(0,1fr)_auto] items-baseline gap-x-6 py-1.5 md:grid-cols-[8rem_minmax(0,1.2fr)_minmax(0,1fr)_minmax(0,1fr)_11rem]"
      >
        <span class="fig text-sm text-quiet max-md:hidden">{{ day(p.started) }}</span>
        <RouterLink :to="`/pours/${p.id}`" class="truncate font-bold hover:underline">
          {{ p.recipe }} <span class="font-normal text-quiet">version {{ p.version }}</span>
        </RouterLink>
        <span class="truncate max-md:hidden">{{ p.scent ?? 'unscented' }}</span>
        <span class="truncate text-quiet max-md:hidden">{{ p.technique }}</span>
        <span class="note">
          <template v-if="p.ended !== null"
            >{{ minutes(p.ended) }} min, {{ p.events }} taps{{
              p.left_out ? ', not learned from' : ''
            }}</template
          >
          <b v-else class="text-stir">being poured</b>
        </span>
      </li>
    </ol>
  </div>
</template>
