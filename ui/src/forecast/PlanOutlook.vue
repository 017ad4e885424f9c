<script setup lang="ts">
/** What the plan comes to, its weakest step, what would mend it, and what to stand ready under it. */
import { computed } from 'vue'
import type { Forecast, Schemas } from '../api/client'
import { injectDraft } from '../ledger/useDraft'
import { inHundred } from '../support/format'
import OutlookBar from './OutlookBar.vue'
import { usePlan } from './usePlan'

const props = defineProps<{ forecast: Forecast }>()
const draft = injectDraft()
const { data, error } = usePlan(draft)
const look = computed(() => props.forecast.outlook)
const percent = (share: number) => Math.round(100 * share)
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
const levers = computed(() => (draft.sheet.value ? (data.value?.levers?.levers ?? []) : []))
const backs = computed(() => (draft.sheet.value ? (data.value?.fall_backs ?? []) : []))
const waits = computed(() => props.forecast.steps.filter((s) => s.waits >= 2))

function take(lever: Schemas['Lever']) {
  draft.edit(`lever ${lever.key}`, (d) => void Object.assign(d, JSON.parse(JSON.stringify(lever.recipe))))
}
</script>

<template>
  <section aria-labelledby="outlook">
    <h2 id="outlook" class="pb-1 text-lg font-bold">
      As drawn <span class="fig">{{ inHundred(look.drawn) }}</span><span class="font-normal text-quiet"
        >, different but sellable <span class="fig">{{ percent(look.different) }}</span>, lost
        <span class="fig">{{ percent(look.lost) }}</span></span
      >
    </h2>
    <OutlookBar :outlook="look" />
    <p v-if="forecast.weakest && forecast.weakest.odds < 0.9" class="pt-1.5">
      Weakest: {{ forecast.weakest.says }}.
    </p>
    <p v-for="s in waits" :key="s.key" class="note pt-0.5">
      {{ capital(s.label) }} waits about {{ Math.round(s.waits) }} min for the batter.
    </p>
    <p v-if="error" class="says" role="alert">{{ error.message }}</p>
    <template v-if="levers.length">
      <h3 class="pt-3 pb-0.5 font-semibold">What would mend it</h3>
      <ol class="border-t border-rule">
        <li
          v-for="l in levers"
          :key="l.key"
          class="row grid grid-cols-[minmax(0,1fr)_auto_auto] items-baseline gap-x-4 py-1"
        >
          <span
            >{{ capital(l.name) }} <span class="note">{{ l.costs }}</span></span
          >
          <span class="fig whitespace-nowrap">{{ inHundred(l.outlook.drawn) }}</span>
          <button
            type="button"
            class="min-h-6 text-sm underline"
            :aria-label="`Take it: ${l.name}`"
            @click="take(l)"
          >
            take it
          </button>
        </li>
      </ol>
    </template>
    <template v-if="backs.length">
      <h3 class="pt-3 pb-0.5 font-semibold">Stand ready</h3>
      <ol class="border-t border-rule">
        <li v-for="b in backs" :key="b.step" class="row py-1">
          {{ b.name }}, {{ b.trigger }}: as drawn
          <span class="fig">{{ inHundred(b.instead.drawn) }}</span>
          {{ ' ' }}
          <span class="note">
            in the {{ percent(b.often) }} in 100 batters in which that happens; going on there
            {{ percent(b.going_on.drawn) }}
          </span>
        </li>
      </ol>
    </template>
  </section>
</template>
