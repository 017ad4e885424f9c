<script setup lang="ts">
/** How will this batter move, and why? The ribbon large; under it the reasons and the design that stands on it. */
import { computed, ref } from 'vue'
import type { Forecast } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from '../ledger/useDraft'
import Figure from '../fields/Figure.vue'
import { minutes } from '../support/format'
import Knobs from '../forecast/Knobs.vue'
import Prospects from '../forecast/Prospects.vue'
import Why from '../forecast/Why.vue'
import WaterRule from '../ledger/WaterRule.vue'
import TraceRibbon from '../ribbon/TraceRibbon.vue'
import { warmth } from '../support/quantity'

const draft = injectDraft()
const { data: shelf } = useShelf()
const ghost = ref<Forecast | null>(null)
const recipe = computed(() => draft.recipe.value as NonNullable<typeof draft.recipe.value>)
const forecast = computed(() => draft.foretold.value?.forecast ?? null)
const schools = computed(() => draft.foretold.value?.schools ?? [])
const reasons = computed(() => draft.foretold.value?.reasons ?? null)

const earliest = computed(() => {
  const lanes = forecast.value?.lanes ?? []
  const first = [...lanes].sort((a, b) => (a.stages[1]?.time.q10 ?? 0) - (b.stages[1]?.time.q10 ?? 0))[0]
  const time = first?.stages[1]?.time
  return first && time
    ? `${first.portion} could be at medium as early as ${minutes(time.q10)} min; about ${minutes(time.q50)} is likeliest.`
    : ''
})

/** What the ribbon and its knobs will take, kept free until they are there. */
const room = computed(() => {
  const lanes = Math.max(recipe.value.design.portions.length, 1)
  return 240 + lanes * (lanes > 3 ? 66 : 80)
})
const nameOf = (id: string) => shelf.value?.fragrances.find((f) => f.id === id)?.name ?? id
</script>

<template>
  <template v-if="forecast">
    <p class="pt-2 pb-3" :class="draft.forecastStale.value ? 'stale' : ''">
      {{ earliest }} <span class="text-quiet">{{ forecast.standing }}</span>
      {{ ' ' }}
      <RouterLink :to="`/recipes/${draft.id}/plan`" class="underline"
        >{{ Math.round(100 * forecast.outlook.drawn) }} % chance it comes as planned</RouterLink
      >.
    </p>
    <TraceRibbon
      :forecast="forecast"
      :ghost="ghost"
      :lane="forecast.lanes.length > 3 ? 66 : 80"
      :class="draft.forecastStale.value ? 'stale' : ''"
    />
    <Knobs class="mt-2" @ghost="(turned) => (ghost = turned)" />
  </template>
  <p
    v-else-if="draft.sheet.value || !draft.weighed.value"
    class="py-6"
    role="status"
    :style="{ minHeight: `${room}px` }"
  >
    Forecasting …
  </p>
  <div v-else class="my-4 border-y border-rule py-8">
    <p class="text-lg font-semibold">No forecast while something is wrong with the recipe.</p>
    <ul class="pt-1">
      <li v-for="f in draft.faults.value" :key="f.pointer + f.message" class="message">{{ f.message }}</li>
    </ul>
    <RouterLink :to="`/recipes/${draft.id}`" class="underline">To the recipe</RouterLink>
  </div>

  <div class="mt-4 grid gap-x-10 gap-y-6 pb-8 lg:grid-cols-[1.15fr_1fr]">
    <div class="flex flex-col gap-6">
      <Why v-if="reasons" :lead="reasons" />
    </div>

    <div class="flex flex-col gap-6">
      <section aria-labelledby="batter">
        <div class="ledger-head [--hue:var(--color-stir)]">
          <h2 id="batter">The batter</h2>
          <RouterLink :to="`/recipes/${draft.id}/plan`" class="ml-auto text-sm underline">
            How it is poured stands in the plan
          </RouterLink>
        </div>
        <div class="flex flex-wrap gap-x-5 gap-y-2 pt-2">
          <Figure pointer="/pour_celsius" label="pour at" unit="°C" width="w-10" />
          <Figure
            v-for="(scent, i) in recipe.scents"
            :key="scent.fragrance"
            :pointer="`/scents/${i}/load`"
            :label="nameOf(scent.fragrance)"
            unit="%"
            :scale="100"
            :step="0.1"
            width="w-10"
          />
          <WaterRule :sheet="draft.sheet.value" />
        </div>
        <p v-if="schools.length" class="flex flex-wrap items-center gap-2 pt-2 text-sm">
          <span class="note">medium trace if poured</span>
          <button
            v-for="s in schools"
            :key="s.name"
            type="button"
            class="key text-sm font-normal"
            @click="draft.edit('school', (d) => void (d.pour_celsius = s.celsius))"
          >
            {{ s.name }} {{ warmth(s.celsius, 1) }} · {{ minutes(s.medium) }} min
          </button>
        </p>
        <p v-if="recipe.scents.length" class="note pt-2">
          What is known of
          <template v-for="(scent, i) in recipe.scents" :key="scent.fragrance">
            {{ i ? 'and ' : '' }}
            <RouterLink :to="`/shelf/${scent.fragrance}`" class="underline">{{
              nameOf(scent.fragrance)
            }}</RouterLink>
          </template>
        </p>
      </section>
      <Prospects />
    </div>
  </div>
</template>
