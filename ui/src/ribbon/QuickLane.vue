<script setup lang="ts">
/** One lane of the ribbon: the portion that is quickest, when it comes to medium, and how its batter thickens. */
import { useElementSize } from '@vueuse/core'
import { computed, ref, useId } from 'vue'
import type { Forecast } from '../api/client'
import { minutes } from '../support/format'
import { at, stopsOf, type Axis } from './axis'
import { shade, TRAIL, trailsOf } from './batter'
import { soonest } from './soonest'

const props = defineProps<{ forecast: Forecast; to: string }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box, { width: 700, height: 0 })
const id = useId()
const one = computed(() => soonest(props.forecast, 1))
const lane = computed(() => one.value.lanes[0])
const medium = computed(() => lane.value?.stages[1]?.time)
const axis = computed<Axis>(() => ({ minutes: one.value.axis, left: 0, width: width.value }))
const stops = computed(() => stopsOf(axis.value, lane.value?.shade ?? [], one.value.axis, shade))
const trails = computed(() =>
  lane.value
    ? trailsOf(lane.value, one.value.emulsion.q50, (m) => at(axis.value, m), one.value.axis, 44)
    : [],
)
</script>

<template>
  <RouterLink
    v-if="lane && medium"
    :to="to"
    class="flex items-center gap-x-6 gap-y-1 py-1.5 max-sm:flex-wrap"
    data-test="why"
  >
    <span class="max-w-md min-w-0 truncate"
      >Medium trace in <b class="fig">{{ minutes(medium.q50) }}</b> min{{ ' ' }}
      <span class="text-quiet"
        >({{ minutes(medium.q10) }}–{{ minutes(medium.q90) }})<template v-if="forecast.lanes.length > 1"
          >, {{ lane.portion }} first</template
        ></span
      ></span
    >
    <span ref="box" class="h-7 min-w-40 flex-1">
      <svg :viewBox="`0 0 ${width} 28`" class="block h-7 w-full" aria-hidden="true">
        <defs>
          <linearGradient :id="id">
            <stop v-for="s in stops" :key="s.at" :offset="s.at" :stop-color="s.colour" />
          </linearGradient>
        </defs>
        <rect
          x=".5"
          y=".5"
          :width="Math.max(width - 1, 0)"
          height="27"
          rx="5"
          :fill="`url(#${id})`"
          stroke="var(--color-rule)"
        />
        <path
          v-for="t in trails"
          :key="t.stage"
          :d="TRAIL[t.stage]"
          :transform="`translate(${t.at} 9)`"
          fill="none"
          :stroke="t.ink"
          stroke-width="1.9"
          stroke-linecap="round"
        />
      </svg>
    </span>
    <span class="text-sm whitespace-nowrap text-quiet"><slot /></span>
  </RouterLink>
</template>
