<script setup lang="ts">
/** What do I weigh, and is it safe? Oils, fragrance and colour, and the lye in a card of its own; the ribbon below. */
import { computed, ref } from 'vue'
import { injectDraft } from '../ledger/useDraft'
import { useMoves } from '../ledger/useMoves'
import AdditiveRows from '../ledger/AdditiveRows.vue'
import FatRows from '../ledger/FatRows.vue'
import LiquidRows from '../ledger/LiquidRows.vue'
import LyeCard from '../ledger/LyeCard.vue'
import MorePanel from '../ledger/MorePanel.vue'
import MouldRows from '../ledger/MouldRows.vue'
import Noted from '../ledger/Noted.vue'
import ScentRows from '../ledger/ScentRows.vue'
import SizeBand from '../ledger/SizeBand.vue'
import StrataBand from '../ledger/StrataBand.vue'
import VesselAdd from '../ledger/VesselAdd.vue'
import { percent } from '../support/format'
import QuickLane from '../ribbon/QuickLane.vue'
import { warmth } from '../support/quantity'
import { shared } from '../support/shared'
import Told from '../support/Told.vue'

const draft = injectDraft()
const moves = useMoves()
const recipe = computed(() => draft.recipe.value as NonNullable<typeof draft.recipe.value>)
const sheet = draft.sheet
const opened = ref<'' | 'mould' | 'more'>('')
const forecast = computed(() => draft.foretold.value?.forecast ?? null)
/** What is weighed; where only the design is at fault, what stands all the same. */
const lines = computed(() =>
  draft.unreadable.size || draft.unreachable.value
    ? []
    : (sheet.value?.lines ?? draft.weighed.value?.weighing.sound ?? []),
)
/** Each vessel's alone: what changes in one draws nothing of another. */
const potLines = shared(() => lines.value.filter((l) => l.vessel === 'pot'))
const stirLines = shared(() => lines.value.filter((l) => l.vessel === 'stir'))
const fats = ref<InstanceType<typeof FatRows> | null>(null)
const empty = computed(() => recipe.value.fats.length === 0)
const sum = computed(() => draft.weighed.value?.weighing.whole ?? 1)
</script>

<template>
  <Noted />
  <SizeBand v-model="opened" />
  <MouldRows v-if="opened === 'mould'" :sheet="sheet" />
  <MorePanel v-if="opened === 'more'" />

  <div
    class="grid gap-x-8 gap-y-5 pt-3 pb-4 md:grid-cols-2 lg:grid-cols-[minmax(0,1.15fr)_minmax(0,1.08fr)_22rem]"
  >
    <section
      class="[--hue:var(--color-pot)]"
      :class="[{ welcome: moves.welcome('pot') }, draft.stale.value ? 'stale' : '']"
      aria-labelledby="pot"
      v-bind="moves.target('pot')"
    >
      <div class="ledger-head">
        <svg viewBox="0 0 28 24" class="w-7 self-center text-pot" aria-hidden="true">
          <path
            d="M4 11Q10 7 14 10T24 9V18Q24 22 20 22H8Q4 22 4 18Z"
            fill="currentColor"
            fill-opacity=".35"
          />
          <path
            d="M1 3H4V18Q4 22 8 22H20Q24 22 24 18V3H27"
            fill="none"
            stroke="currentColor"
            stroke-width="2.2"
          />
        </svg>
        <h2 id="pot">Oils</h2>
        <span class="fig ml-auto text-quiet">
          <b v-if="!empty && Math.abs(sum - 1) > 0.0005" class="pr-2 text-iron">{{ percent(sum, 2) }} %</b>
          <Told v-if="sheet" :text="sheet.fats_shown" />
        </span>
      </div>
      <FatRows ref="fats" :lines="potLines" />
      <LiquidRows vessel="pot" :lines="potLines" />
      <AdditiveRows vessel="pot" :lines="potLines" />
      <ScentRows vessel="pot" :sheet="sheet" />
      <VesselAdd vessel="pot" @fat="(id) => fats?.add(id)" />
      <StrataBand v-if="sheet" class="pt-3" :strata="sheet.bar.strata" />
    </section>

    <section
      class="[--hue:var(--color-stir)]"
      :class="[{ welcome: moves.welcome('stir') }, draft.stale.value ? 'stale' : '']"
      aria-labelledby="stir"
      v-bind="moves.target('stir')"
    >
      <div class="ledger-head">
        <svg viewBox="0 0 26 26" class="w-6.5 self-center text-stir" aria-hidden="true">
          <path d="M3 10H23L20 24H6Z" fill="none" stroke="currentColor" stroke-width="2.2" />
          <path d="M12 18L19 2" stroke="currentColor" stroke-width="2.4" stroke-linecap="round" />
        </svg>
        <h2 id="stir">Fragrance and colour</h2>
      </div>
      <ScentRows vessel="stir" :sheet="sheet" />
      <LiquidRows vessel="stir" :lines="stirLines" />
      <AdditiveRows vessel="stir" :lines="stirLines" />
      <VesselAdd vessel="stir" />
    </section>

    <div
      class="max-md:order-first md:max-lg:col-span-2 lg:row-span-1"
      :class="{ welcome: moves.welcome('jug') }"
      v-bind="moves.target('jug')"
    >
      <LyeCard class="lg:sticky lg:top-3" :lines="lines" />
    </div>
  </div>

  <div
    v-if="forecast"
    class="sticky bottom-0 -mx-6 mt-auto border-t border-rule bg-chalk px-6 max-sm:static max-sm:-mx-4 max-sm:px-4"
  >
    <QuickLane :forecast="forecast" :to="`/recipes/${draft.id}/forecast`">
      at {{ warmth(recipe.pour_celsius) }}, room {{ warmth(recipe.room_celsius) }}
    </QuickLane>
  </div>
</template>
