<script setup lang="ts">
/** The ribbon's figures for those who read rather than see them. */
import type { Forecast } from '../api/client'
import { chance, minutes } from '../support/format'

defineProps<{ forecast: Forecast }>()
</script>

<template>
  <div class="grid gap-4 py-2 text-sm md:grid-cols-2">
    <table class="text-left">
      <caption class="text-left font-semibold">
        When each stage comes, minutes from lye in
      </caption>
      <thead>
        <tr>
          <th scope="col" class="pr-4">portion, stage</th>
          <th scope="col" class="pr-4">middle</th>
          <th scope="col" class="pr-4">5 in 10</th>
          <th scope="col">8 in 10</th>
        </tr>
      </thead>
      <tbody class="fig">
        <template v-for="lane in forecast.lanes" :key="lane.portion">
          <tr v-for="s in lane.stages" :key="s.stage">
            <th scope="row" class="pr-4 font-normal">{{ lane.portion }}, {{ s.stage }}</th>
            <td class="pr-4">{{ minutes(s.time.q50) }}{{ s.seen !== null ? ' seen' : '' }}</td>
            <td class="pr-4">{{ minutes(s.time.q25) }}–{{ minutes(s.time.q75) }}</td>
            <td>{{ minutes(s.time.q10) }}–{{ minutes(s.time.q90) }}</td>
          </tr>
        </template>
      </tbody>
    </table>
    <table class="self-start text-left">
      <caption class="text-left font-semibold">
        The plan's steps
      </caption>
      <thead>
        <tr>
          <th scope="col" class="pr-4">step</th>
          <th scope="col" class="pr-4">minutes</th>
          <th scope="col" class="pr-4">wants</th>
          <th scope="col">as planned</th>
        </tr>
      </thead>
      <tbody class="fig">
        <tr v-for="s in forecast.steps" :key="s.key">
          <th scope="row" class="pr-4 font-normal">{{ s.label }}</th>
          <td class="pr-4">{{ minutes(s.start) }}–{{ minutes(s.end) }}</td>
          <td class="pr-4">{{ s.weight > 0 ? s.wants : '' }}</td>
          <td>{{ s.done ? 'done' : s.weight > 0 ? chance(s.odds) : '' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
