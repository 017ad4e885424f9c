<script setup lang="ts">
/** How will this batter move, and why? The ribbon large; under it the reasons and the design that stands on it. */
import { computed, ref } from 'vue'
import type { Forecast, Portion } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from '../ledger/useDraft'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import { inHundred, minutes, signed } from '../support/format'
import Knobs from '../forecast/Knobs.vue'
import PlanOutlook from '../forecast/PlanOutlook.vue'
import { usePlan } from '../forecast/usePlan'
import PickList from '../fields/PickList.vue'
import Prospects from '../forecast/Prospects.vue'
import Says from '../fields/Says.vue'
import WaterRule from '../ledger/WaterRule.vue'
import TraceRibbon from '../ribbon/TraceRibbon.vue'

const draft = injectDraft()
const { data: shelf } = useShelf()
const ghost = ref<Forecast | null>(null)
const recipe = computed(() => draft.recipe.value as NonNullable<typeof draft.recipe.value>)
const forecast = computed(() => (draft.sheet.value ? draft.reckoning.value?.forecast : null))
const schools = computed(() => (draft.sheet.value ? (draft.reckoning.value?.schools ?? []) : []))
const reasons = computed(() => (draft.sheet.value ? draft.reckoning.value?.reasons : null))
const { data: plan } = usePlan(draft)
const technique = computed(() => shelf.value?.techniques.find((t) => t.id === recipe.value.design.technique))

const techniques = computed(() =>
  (shelf.value?.techniques ?? [])
    .filter((t) => t.pots > 0)
    .map((t) => {
      const odds = plan.value?.techniques.find((o) => o.technique === t.id)
      const most = t.most !== null && recipe.value.design.portions.length > t.most
      const needs = most ? `at most ${t.most} portions` : `needs ${t.pots} portions`
      const unknown = t.pots > recipe.value.design.portions.length || most ? needs : ''
      return { id: t.id, name: t.name, hint: odds ? inHundred(odds.outlook.drawn) : unknown }
    }),
)
const widest = computed(() => Math.max(1, ...(reasons.value?.reasons ?? []).map((r) => Math.abs(r.minutes))))
const bar = (m: number) => (Math.abs(m) / widest.value) * 50

const earliest = computed(() => {
  const lanes = forecast.value?.lanes ?? []
  const first = [...lanes].sort((a, b) => (a.stages[1]?.time.q10 ?? 0) - (b.stages[1]?.time.q10 ?? 0))[0]
  const time = first?.stages[1]?.time
  return first && time
    ? `${first.portion} could be at medium as early as ${minutes(time.q10)} min; about ${minutes(time.q50)} is likeliest.`
    : ''
})

const SCENT_AT = {
  portions: 'scent after the split',
  emulsion: 'scent in the whole pot, at emulsion',
  fats: 'scent in the fats',
}
const SCENT_BY = { hand: 'scent whisked in by hand', stick: 'scent stick-blended in' }
const WRAPS = {
  open: 'mould left open',
  covered: 'mould covered',
  insulated: 'mould in a towel',
  oven: 'mould in a warm oven',
  cold: 'mould in the fridge',
}
const BATCHING = { whole: 'whole batter, then split', layers: 'layer by layer from raw shares' }
const nameOf = (id: string) => shelf.value?.fragrances.find((f) => f.id === id)?.name ?? id

/** Meant for this portion, wherever it stands by the time it is taken out. */
function takeOut(portion: Portion, row: number) {
  void draft.adjust(({ design }) => {
    const same = design.portions.flatMap((p, i) => (p.name === portion.name ? [i] : []))
    const at = same.length > 1 ? row : (same[0] ?? -1)
    return at < 0 ? null : { kind: 'take_portion', row: at }
  })
}
const setTechnique = (id: string) => draft.edit('technique', (d) => void (d.design.technique = id))
</script>

<template>
  <template v-if="forecast">
    <p class="pt-2 pb-3" :class="draft.stale.value ? 'stale' : ''">
      {{ earliest }} <span class="text-quiet">{{ forecast.standing }}</span>
    </p>
    <TraceRibbon
      :forecast="forecast"
      :ghost="ghost"
      :lane="forecast.lanes.length > 3 ? 66 : 80"
      :class="draft.stale.value ? 'stale' : ''"
    />
    <Knobs class="mt-2" @ghost="(turned) => (ghost = turned)" />
  </template>
  <div v-else class="my-4 border-y border-rule py-8">
    <p class="text-lg font-semibold">No forecast while something is wrong with the recipe.</p>
    <ul class="pt-1">
      <li v-for="f in draft.faults.value" :key="f.pointer + f.says" class="says">{{ f.says }}</li>
    </ul>
    <RouterLink :to="`/recipes/${draft.id}`" class="underline">To the recipe</RouterLink>
  </div>

  <div class="mt-4 grid gap-x-10 gap-y-6 pb-8 lg:grid-cols-[1.15fr_1fr]">
    <div class="flex flex-col gap-6">
      <PlanOutlook v-if="forecast" :forecast="forecast" />
      <section v-if="reasons" aria-labelledby="why">
        <h2 id="why" class="pb-1.5 text-lg font-bold">
          Why medium trace comes at about {{ minutes(reasons.here) }} min in {{ reasons.portion }}
          <span class="font-normal text-quiet">
            instead of {{ minutes(reasons.usual) }} in {{ reasons.usual_words }}
          </span>
        </h2>
        <p v-if="!reasons.reasons.length" class="note">Nothing sets this batter apart from it.</p>
        <ol>
          <li
            v-for="r in reasons.reasons"
            :key="r.key"
            class="row grid grid-cols-[minmax(0,1fr)_8rem_auto] items-center gap-x-4 sm:grid-cols-[minmax(0,11rem)_minmax(6rem,1fr)_auto] xl:grid-cols-[minmax(0,11rem)_minmax(6rem,1fr)_auto_8.5rem]"
          >
            <span class="truncate" :title="r.label">{{ r.label }}</span>
            <svg viewBox="0 0 100 12" preserveAspectRatio="none" class="h-3 w-full" aria-hidden="true">
              <rect
                :x="r.minutes < 0 ? 50 - bar(r.minutes) : 50"
                y="1"
                :width="bar(r.minutes)"
                height="10"
                :fill="r.minutes < 0 ? '#a3690f' : '#2f716e'"
              />
              <line x1="50" x2="50" y1="0" y2="12" stroke="#53626a" stroke-width=".4" />
            </svg>
            <span class="fig whitespace-nowrap">
              <b>{{ signed(r.minutes) }}</b> <span class="unit">±{{ r.spread.toFixed(1) }} min</span>
            </span>
            <span class="note max-xl:hidden">{{ r.basis }}</span>
          </li>
        </ol>
        <p class="note pt-2">
          Together {{ signed(reasons.here - reasons.usual) }} min, give or take
          {{ reasons.spread.toFixed(1) }}.
        </p>
      </section>

      <Prospects />
    </div>

    <section aria-labelledby="design">
      <div class="ledger-head [--hue:var(--color-stir)]">
        <h2 id="design">Design</h2>
        <PickList
          class="flex-1"
          label="Technique"
          :options="techniques"
          :chosen="recipe.design.technique"
          @pick="setTechnique"
        />
      </div>
      <Says :faults="draft.faultsAt('/design/technique')" />
      <p v-if="technique" class="py-1 text-sm">
        {{ technique.how.charAt(0).toUpperCase() + technique.how.slice(1) }}.
      </p>
      <Says :faults="draft.faultsAt('/design/portions')" />
      <ol class="pt-1">
        <li v-for="(p, i) in recipe.design.portions" :key="i" class="row py-1">
          <div class="flex flex-wrap items-baseline gap-x-3">
            <input
              class="field min-w-24 flex-1 font-semibold text-ellipsis"
              maxlength="80"
              :aria-label="`Name of portion ${i + 1}`"
              :value="p.name"
              :aria-invalid="draft.faultsAt(`/design/portions/${i}/name`).length > 0"
              @input="
                draft.edit(`/design/portions/${i}/name`, (d) => {
                  const portion = d.design.portions[i]
                  if (!portion) return
                  const name = ($event.target as HTMLInputElement).value
                  for (const dose of d.additives) if (dose.into === portion.name) dose.into = name
                  portion.name = name
                })
              "
            />
            <label class="flex items-center gap-1.5">
              <input
                type="checkbox"
                class="size-4 accent-ink"
                :checked="p.scent > 0"
                @change="
                  draft.edit(`scented ${i}`, (d) => {
                    const portion = d.design.portions[i]
                    if (portion) portion.scent = ($event.target as HTMLInputElement).checked ? 1 : 0
                  })
                "
              />
              scented
            </label>
            <Figure
              :pointer="`/design/portions/${i}/share`"
              :label="`${p.name || 'portion'}, percent of the batter`"
              unit="%"
              :scale="100"
              width="w-12"
              hide-label
            />
            <button
              type="button"
              class="take-out disabled:invisible"
              :disabled="recipe.design.portions.length < 2"
              :aria-label="`Take out ${p.name || 'portion'}`"
              @click="takeOut(p, i)"
            >
              ×
            </button>
          </div>
          <Says :faults="draft.faultsAt(`/design/portions/${i}/name`)" />
        </li>
      </ol>
      <button
        v-if="recipe.design.portions.length < 24"
        type="button"
        class="min-h-6 pt-1 text-sm underline"
        @click="draft.adjust({ kind: 'add_portion' })"
      >
        Add a portion
      </button>
      <p class="flex flex-wrap gap-x-5 gap-y-1 pt-2">
        <Choose
          :model-value="recipe.design.scent_at"
          :options="SCENT_AT"
          label="When the fragrance goes in"
          @update:model-value="(at) => draft.edit('scent at', (d) => void (d.design.scent_at = at))"
        />
        <Choose
          :model-value="recipe.design.batching"
          :options="BATCHING"
          label="How the batter is made"
          @update:model-value="(how) => draft.edit('batching', (d) => void (d.design.batching = how))"
        />
      </p>
      <p class="flex flex-wrap gap-x-5 gap-y-1 pt-1">
        <Choose
          :model-value="recipe.design.scent_by"
          :options="SCENT_BY"
          label="How the fragrance is stirred in"
          @update:model-value="(by) => draft.edit('scent by', (d) => void (d.design.scent_by = by))"
        />
        <Choose
          :model-value="recipe.design.wrap"
          :options="WRAPS"
          label="How the mould rests"
          @update:model-value="(wrap) => draft.edit('wrap', (d) => void (d.design.wrap = wrap))"
        />
      </p>
      <Says :cautions="draft.cautionsAt('/design/scent_at')" />
      <p v-if="recipe.design.batching === 'layers'" class="note">
        Each layer starts its own clock when it is combined.
      </p>
      <div class="flex flex-wrap gap-x-5 gap-y-2 pt-2">
        <Figure pointer="/design/split_minutes" label="split takes" unit="min" width="w-10" :step="0.5" />
        <Figure
          pointer="/design/colour_minutes"
          label="colour and scent"
          unit="min"
          width="w-10"
          :step="0.5"
        />
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
          {{ s.name }} {{ s.celsius }} °C · {{ minutes(s.medium) }} min
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
  </div>
</template>
