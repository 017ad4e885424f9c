<script setup lang="ts">
/** What do I weigh, and is it safe? Three vessels as ledgers, the superfat as a range, the ribbon below. */
import { computed, ref } from 'vue'
import type { Line, Sheet } from '../api/client'
import { injectDraft } from '../ledger/useDraft'
import { useMoves } from '../ledger/useMoves'
import AdditiveRows from '../ledger/AdditiveRows.vue'
import BarNotes from '../ledger/BarNotes.vue'
import BriefPanel from '../ledger/BriefPanel.vue'
import CoolingPanel from '../ledger/CoolingPanel.vue'
import Figure from '../fields/Figure.vue'
import FatRows from '../ledger/FatRows.vue'
import { minutes, percent, signed } from '../support/format'
import LiquidRows from '../ledger/LiquidRows.vue'
import Noted from '../ledger/Noted.vue'
import LyeSettings from '../ledger/LyeSettings.vue'
import MouldRows from '../ledger/MouldRows.vue'
import Message from '../fields/Message.vue'
import { printed } from '../support/paper'
import ScentRows from '../ledger/ScentRows.vue'
import SuperfatSpan from '../ledger/SuperfatSpan.vue'
import VesselAdd from '../ledger/VesselAdd.vue'
import { soonest } from '../ribbon/soonest'
import TraceRibbon from '../ribbon/TraceRibbon.vue'
import { volume, warmth } from '../support/quantity'
import Told from '../support/Told.vue'
import { money } from '../support/money'

const DOCKED = 3
const draft = injectDraft()
const moves = useMoves()
const recipe = computed(() => draft.recipe.value as NonNullable<typeof draft.recipe.value>)
const sheet = draft.sheet
const heat = computed(() => (sheet.value ? draft.weighed.value?.heat : null))
const cost = computed(() => (sheet.value ? draft.weighed.value?.supply?.cost : null))
const label = computed(() => (sheet.value ? draft.weighed.value?.label : null))
const reasons = computed(() => draft.foretold.value?.reasons ?? null)
/** What fits below the ledgers. */
const docked = computed(() => {
  const all = draft.foretold.value?.forecast ?? null
  return all ? soonest(all, DOCKED) : null
})
const lines = computed(() => sheet.value?.lines ?? [])

const fats = ref<InstanceType<typeof FatRows> | null>(null)
const empty = computed(() => recipe.value.fats.length === 0)
const sum = computed(() => draft.weighed.value?.weighing.whole ?? 1)
const ownOf = (p: Sheet['portions'][number]) =>
  p.own.map((x) => `${x.shown} ${x.name.toLowerCase()}`).join(', ')
type OnScale = Pick<Line, 'key' | 'name' | 'shown' | 'also' | 'item'>
const onScale = (kinds: Line['kind'][], instead: string): OnScale[] => {
  const found = lines.value.filter((l) => kinds.includes(l.kind))
  return found.length ? found : [{ key: instead, name: instead, shown: '—', also: '', item: '' }]
}
const alkalis = computed(() => onScale(['alkali', 'stock'], 'Sodium hydroxide'))
const waters = computed(() => onScale(['water', 'ice'], 'Water'))
</script>

<template>
  <BriefPanel />
  <Noted />
  <div class="flex flex-wrap items-start gap-x-6 gap-y-2 border-b border-rule pt-1 pb-2">
    <MouldRows :sheet="sheet" />
    <Figure pointer="/pour_celsius" label="pour at" unit="°C" width="w-11" />
    <Figure pointer="/room_celsius" label="room" unit="°C" width="w-11" />
    <p class="note ml-auto self-end pb-1 text-right" :class="draft.stale.value ? 'stale' : ''">
      <template v-if="sheet">
        <Told class="fig text-base font-bold text-ink" :text="sheet.total_shown" /> batter ·
        <Told class="fig text-base font-bold text-ink" :text="sheet.fats_shown" /> fats ·
        <Told class="fig text-base font-bold text-ink" :text="volume(sheet.millilitres)" />
        <template v-if="cost">
          <br />
          <RouterLink
            to="/stock"
            class="hover:underline"
            :title="
              cost.unpriced.length ? `without ${cost.unpriced.join(', ')}` : 'by the prices on the shelf'
            "
          >
            costs <b class="fig text-base text-ink">{{ money(cost.batch) }}</b><template
              v-if="cost.bar !== null"
            >
              · <b class="fig text-base text-ink">{{ money(cost.bar) }}</b> a bar</template
            ><template v-if="cost.unpriced.length">, {{ cost.unpriced.length }} without a price</template>
          </RouterLink>
        </template>
      </template>
      <template v-else-if="empty">weights follow the first fat</template>
      <template v-else>nothing is weighed while something is wrong</template>
    </p>
  </div>

  <div
    class="grid gap-x-9 gap-y-6 pt-4 pb-4 md:grid-cols-2 lg:grid-cols-3"
    :class="draft.stale.value ? 'stale' : ''"
  >
    <section
      class="[--hue:var(--color-pot)]"
      :class="{ welcome: moves.welcome('pot') }"
      aria-labelledby="pot"
      v-bind="moves.target('pot')"
    >
      <div class="ledger-head">
        <h2 id="pot">Fat pot</h2>
        <span v-if="heat" class="note">
          {{ warmth(heat.pot.start) }}, {{ warmth(recipe.pour_celsius, 1) }} after
          {{ minutes(heat.pot.ready) }} min
        </span>
        <span
          v-if="!empty"
          class="fig ml-auto text-sm"
          :class="Math.abs(sum - 1) > 0.0005 ? 'font-bold text-iron' : 'text-quiet'"
        >
          {{ percent(sum, 2) }} %
        </span>
      </div>
      <FatRows ref="fats" :lines="lines" />
      <LiquidRows vessel="pot" :lines="lines" />
      <AdditiveRows vessel="pot" :lines="lines" />
      <ScentRows vessel="pot" :sheet="sheet" />
      <VesselAdd vessel="pot" @fat="(id) => fats?.add(id)" />
    </section>

    <section
      class="[--hue:var(--color-jug)]"
      :class="{ welcome: moves.welcome('jug') }"
      aria-labelledby="jug"
      v-bind="moves.target('jug')"
    >
      <div class="ledger-head">
        <h2 id="jug">Lye jug</h2>
        <span v-if="heat" class="note">
          near {{ warmth(heat.peak) }}, {{ warmth(recipe.pour_celsius, 1) }} after
          {{ minutes(heat.jug.ready) }} min
        </span>
      </div>
      <div v-for="l in alkalis" :key="l.key" class="row ledger-row">
        <span class="font-bold"
          >{{ l.name }}<span v-if="l.also" class="note block font-normal">{{ l.also }}</span></span
        >
        <span
          class="fig justify-self-end text-2xl leading-7 font-bold whitespace-nowrap"
          :data-test="l.item === 'alkali:koh' ? 'koh' : 'lye'"
          ><Told :text="l.shown" unit-class="text-base"
        /></span>
      </div>
      <div v-for="l in waters" :key="l.key" class="row ledger-row">
        <span>{{ l.name }}</span>
        <span class="fig text-right font-semibold"><Told :text="l.shown" /></span>
      </div>
      <LiquidRows vessel="jug" :lines="lines" />
      <AdditiveRows vessel="jug" :lines="lines" />
      <VesselAdd vessel="jug" />
      <LyeSettings :sheet="sheet" />
      <p v-if="heat" class="pt-2 text-sm">{{ heat.advice }}</p>
      <Message :cautions="heat?.cautions ?? []" />
      <p class="note pt-1">
        Lye into the liquid, never the reverse. Goggles, gloves, open window; no aluminium.
      </p>
    </section>

    <section
      class="[--hue:var(--color-stir)]"
      :class="{ welcome: moves.welcome('stir') }"
      aria-labelledby="stir"
      v-bind="moves.target('stir')"
    >
      <div class="ledger-head">
        <h2 id="stir">Stir-ins</h2>
        <span class="note">at emulsion</span>
      </div>
      <ScentRows vessel="stir" :sheet="sheet" />
      <LiquidRows vessel="stir" :lines="lines" />
      <AdditiveRows vessel="stir" :lines="lines" />
      <VesselAdd vessel="stir" />
      <template v-if="sheet">
        <SuperfatSpan
          class="mt-4"
          :superfat="sheet.superfat"
          :counted="Math.abs(sheet.superfat.with_liquids - sheet.superfat.set) > 0.0005"
        />
        <table class="mt-4 w-full text-left text-sm">
          <caption class="note text-left">
            After the split, as set on the
            <RouterLink :to="`/recipes/${draft.id}/forecast`" class="underline">Forecast</RouterLink>
          </caption>
          <tbody>
            <tr v-for="(p, i) in sheet.portions" :key="p.name" class="row align-baseline">
              <th scope="row" class="max-w-40 py-1 font-medium" :title="p.name">
                <span class="block truncate">{{ p.name }}</span>
                <span v-if="p.own.length" class="note block font-normal">{{ ownOf(p) }}</span>
                <Message class="font-normal" :cautions="draft.cautionsAt(`/design/portions/${i}/share`)" />
              </th>
              <td class="fig text-right"><Told :text="p.shown.batter" /></td>
              <td v-if="recipe.design.batching === 'layers'" class="fig text-right">
                {{ p.shown.from_pot }} <span class="unit">of the pot</span> {{ p.shown.from_jug }}
                <span class="unit">of the jug</span>
              </td>
              <td class="fig text-right">
                <template v-if="p.fragrance"
                  >+ {{ p.shown.fragrance }} <span class="unit">scent</span></template
                >
                <span v-else class="unit">{{
                  draft.weighed.value?.ledger?.scents_apart || !recipe.scents.length ? 'unscented' : 'scented'
                }}</span>
              </td>
            </tr>
          </tbody>
        </table>
        <BarNotes class="mt-4" :sheet="sheet" :label="label" />
      </template>
    </section>
  </div>

  <CoolingPanel v-if="sheet" class="pb-3" />
  <p class="flex flex-wrap gap-x-5 pb-3 text-sm leading-6 *:inline-block">
    <RouterLink :to="`/recipes/${draft.id}/compare`" class="underline">Compare</RouterLink>
    <RouterLink v-if="sheet" :to="`/recipes/${draft.id}/bench-sheet`" class="underline"
      >Bench sheet to print</RouterLink
    >
    <a :href="`/api/recipes/${draft.id}/file`" class="underline" download>Recipe as a file</a>
    <a v-if="sheet" :href="`/api/recipes/${draft.id}/sheet.csv`" class="underline" download>Weights as CSV</a>
    <a v-if="sheet" :href="`/api/recipes/${draft.id}/label.pdf?${printed()}`" class="underline" download
      >Label to print</a
    >
    <a
      v-if="draft.weighed.value?.ledger?.mould?.cuts"
      :href="`/api/recipes/${draft.id}/cut-plan.pdf?${printed()}`"
      class="underline"
      download
      >Cut plan to print</a
    >
  </p>

  <div
    v-if="docked"
    class="sticky bottom-0 -mx-6 mt-auto border-t border-rule bg-paper px-6 pt-2 pb-1 max-sm:static max-sm:-mx-4 max-sm:px-4"
  >
    <RouterLink
      v-if="reasons"
      :to="`/recipes/${draft.id}/forecast`"
      class="block truncate text-sm max-sm:whitespace-normal"
      data-test="why"
    >
      {{ reasons.portion }}: medium about <b class="fig">{{ minutes(reasons.here) }}</b> min
      <span class="text-quiet">instead of {{ minutes(reasons.usual) }}, usual</span>
      <template v-for="r in reasons.reasons" :key="r.key">
        · <b class="fig">{{ signed(r.minutes) }}</b> {{ r.label }}
      </template>
    </RouterLink>
    <TraceRibbon :forecast="docked" :lane="20" :steps="false" quiet />
    <p v-if="recipe.design.portions.length > docked.lanes.length" class="note">
      The {{ docked.lanes.length }} soonest of {{ recipe.design.portions.length }} portions; all stand on the
      <RouterLink :to="`/recipes/${draft.id}/forecast`" class="underline">Forecast</RouterLink>.
    </p>
  </div>
</template>
