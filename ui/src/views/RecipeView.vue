<script setup lang="ts">
/** What do I weigh, and is it safe? Three vessels as ledgers, the superfat as a range, the ribbon below. */
import { computed } from 'vue'
import { useShelf } from '../api/queries'
import { injectDraft } from '../composables/useDraft'
import Figure from '../parts/Figure.vue'
import { grams, number, percent } from '../parts/format'
import PickList from '../parts/PickList.vue'
import Says from '../parts/Says.vue'
import StrataBand from '../parts/StrataBand.vue'
import SuperfatSpan from '../parts/SuperfatSpan.vue'
import AdditiveRows from '../parts/AdditiveRows.vue'
import TraceRibbon from '../ribbon/TraceRibbon.vue'

const draft = injectDraft()
const { data: shelf } = useShelf()
const recipe = computed(() => draft.recipe.value as NonNullable<typeof draft.recipe.value>)
const sheet = draft.sheet

const line = (key: string) => sheet.value?.lines.find((l) => l.key === key)
const weight = (key: string) => {
  const found = line(key)
  return found ? grams(found.grams) : '—'
}
const fatName = (id: string) => shelf.value?.fats.find((f) => f.id === id)?.name ?? id
const melts = (id: string) => shelf.value?.fats.find((f) => f.id === id)?.melts

const fatsLeft = computed(() =>
  (shelf.value?.fats ?? [])
    .filter((f) => !recipe.value.fats.some((row) => row.fat === f.id))
    .map((f) => ({ id: f.id, name: f.name, hint: `SV ${f.sv_low}–${f.sv_high}` })),
)
const milks = computed(() => (shelf.value?.liquids ?? []).filter((l) => l.kind === 'milk'))
const scents = computed(() => shelf.value?.fragrances ?? [])
const sum = computed(() => draft.reckoning.value?.weighing.whole ?? 1)

const scentNote = computed(() => scents.value.find((f) => f.id === recipe.value.scent?.fragrance)?.note)

const addFat = (fat: string | null) =>
  fat &&
  draft.edit('add fat', (d) => {
    const left = 1 - (d.fats.length ? sum.value : 0)
    d.fats.push({ fat, share: left > 0.0005 ? Number(left.toFixed(4)) : 0.05 })
  })
const setMilk = (liquid: string | null) =>
  draft.edit('milk', (d) => void (d.milk = liquid ? { liquid, share: d.milk?.share ?? 0.5 } : null))
const setScent = (fragrance: string | null) =>
  draft.edit('scent', (d) => void (d.scent = fragrance ? { fragrance, load: d.scent?.load ?? 0.03 } : null))
function setSize(kind: 'fats' | 'loaf') {
  if (recipe.value.size.kind === kind) return
  draft.edit('size', (d) => {
    d.size =
      kind === 'fats'
        ? { kind, grams: Number((sheet.value?.fats ?? 1000).toFixed(1)) }
        : { kind, length: 24, width: 8, fill: 6 }
  })
}
</script>

<template>
  <div class="flex flex-wrap items-start gap-x-8 gap-y-2 border-b border-rule pt-1 pb-2">
    <fieldset class="flex flex-wrap items-end gap-x-4 gap-y-2">
      <legend class="sr-only">Size</legend>
      <span class="flex gap-3 pb-1">
        <label v-for="k in ['loaf', 'fats'] as const" :key="k" class="flex items-center gap-1.5">
          <input
            type="radio"
            name="size"
            :value="k"
            :checked="recipe.size.kind === k"
            class="size-4 accent-ink"
            @change="setSize(k)"
          />
          {{ k === 'loaf' ? 'loaf mould' : 'weight of fats' }}
        </label>
      </span>
      <template v-if="recipe.size.kind === 'loaf'">
        <Figure pointer="/size/length" label="length" unit="cm" width="w-12" />
        <Figure pointer="/size/width" label="width" unit="cm" width="w-12" />
        <Figure pointer="/size/fill" label="filled to" unit="cm" width="w-12" :step="0.1" />
      </template>
      <Figure v-else pointer="/size/grams" label="all fats" unit="g" width="w-18" :step="10" />
    </fieldset>
    <Figure pointer="/pour_celsius" label="pour at" unit="°C" width="w-11" />
    <Figure pointer="/room_celsius" label="room" unit="°C" width="w-11" />
    <p class="note ml-auto self-end pb-1 text-right" :class="draft.stale.value ? 'stale' : ''">
      <template v-if="sheet">
        <b class="fig text-base text-ink">{{ grams(sheet.total) }}</b> g batter ·
        <b class="fig text-base text-ink">{{ grams(sheet.fats) }}</b> g fats ·
        <b class="fig text-base text-ink">{{ Math.round(sheet.millilitres) }}</b> mL
      </template>
      <template v-else>nothing is weighed while something is wrong</template>
    </p>
  </div>

  <div class="grid gap-x-9 gap-y-6 pt-4 pb-4 md:grid-cols-3" :class="draft.stale.value ? 'stale' : ''">
    <section class="[--hue:var(--color-pot)]" aria-labelledby="pot">
      <div class="ledger-head">
        <h2 id="pot">Fat pot</h2>
        <span v-if="sheet" class="note">SV {{ sheet.saponification_value.toFixed(1) }}</span>
        <span
          class="fig ml-auto text-sm"
          :class="Math.abs(sum - 1) > 0.0005 ? 'font-bold text-iron' : 'text-quiet'"
        >
          {{ percent(sum, 2) }} %
        </span>
      </div>
      <Says :faults="draft.faultsAt('/fats')" @mend="draft.mend" />
      <ol>
        <li v-for="(row, i) in recipe.fats" :key="row.fat" class="row group relative">
          <div class="ledger-row">
            <span class="min-w-0 truncate" :title="fatName(row.fat)">
              {{ fatName(row.fat) }}
              <span v-if="melts(row.fat)" class="note" title="where it turns clear"
                >{{ melts(row.fat) }} °C</span
              >
            </span>
            <span class="fig text-right font-semibold"
              >{{ weight(row.fat) }} <span class="unit">g</span></span
            >
            <Figure
              :pointer="`/fats/${i}/share`"
              :label="`${fatName(row.fat)}, percent of fats`"
              unit="%"
              :scale="100"
              width="w-13"
              hide-label
            />
            <button
              type="button"
              class="text-quiet hover:text-iron"
              :aria-label="`Take out ${fatName(row.fat)}`"
              @click="draft.edit(`out ${row.fat}`, (d) => void d.fats.splice(i, 1))"
            >
              ×
            </button>
          </div>
          <Says :faults="draft.faultsAt(`/fats/${i}/fat`)" />
          <span
            class="absolute bottom-0 left-0 h-0.75 bg-pot"
            :style="{ width: `${Math.min(Math.max(row.share, 0), 1) * 100}%` }"
            aria-hidden="true"
          />
        </li>
      </ol>
      <AdditiveRows vessel="pot" :lines="sheet?.lines ?? []" />
      <PickList class="pt-1.5" label="Add a fat" :options="fatsLeft" @pick="addFat" />
    </section>

    <section class="[--hue:var(--color-jug)]" aria-labelledby="jug">
      <div class="ledger-head">
        <h2 id="jug">Lye jug</h2>
        <span v-if="sheet" class="note">{{ number(sheet.water_per_lye, 2) }} parts water to 1 of lye</span>
      </div>
      <div class="row ledger-row">
        <span class="font-bold">Sodium hydroxide</span>
        <span class="fig justify-self-end whitespace-nowrap text-2xl leading-7 font-bold" data-test="lye"
          >{{ weight('naoh') }}<span class="unit pl-1 text-base">g</span></span
        >
      </div>
      <div class="row ledger-row">
        <span>Water</span>
        <span class="fig text-right font-semibold">{{ weight('water') }} <span class="unit">g</span></span>
      </div>
      <div class="row ledger-row">
        <PickList
          label="Milk"
          none="no milk"
          :options="milks"
          :chosen="recipe.milk?.liquid"
          @pick="setMilk"
        />
        <template v-if="recipe.milk">
          <span class="fig text-right font-semibold"
            >{{ weight(recipe.milk.liquid) }} <span class="unit">g</span></span
          >
          <Figure
            pointer="/milk/share"
            label="milk, percent of liquid"
            unit="%"
            :scale="100"
            width="w-11"
            hide-label
          />
        </template>
      </div>
      <p v-if="recipe.milk && line(recipe.milk.liquid)" class="note">{{ line(recipe.milk.liquid)?.note }}</p>
      <Says :faults="draft.faultsAt('/milk/liquid')" :cautions="draft.cautionsAt('/milk')" />
      <AdditiveRows vessel="jug" :lines="sheet?.lines ?? []" />
      <div class="flex flex-wrap gap-x-5 gap-y-1 pt-3">
        <Figure pointer="/lye_concentration" label="lye concentration" unit="%" :scale="100" width="w-12" />
        <Figure pointer="/superfat" label="superfat" unit="%" :scale="100" width="w-12" :step="0.5" />
        <Figure pointer="/naoh_purity" label="lye purity" unit="%" :scale="100" width="w-12" />
      </div>
      <p class="note pt-2">
        Lye into the liquid, never the reverse. Goggles, gloves, open window; no aluminium.
      </p>
    </section>

    <section class="[--hue:var(--color-stir)]" aria-labelledby="stir">
      <div class="ledger-head">
        <h2 id="stir">Stir-ins</h2>
        <span class="note">at emulsion</span>
      </div>
      <div class="row ledger-row">
        <PickList
          label="Fragrance"
          none="no fragrance"
          :options="scents"
          :chosen="recipe.scent?.fragrance"
          @pick="setScent"
        />
        <template v-if="recipe.scent">
          <span class="fig text-right font-semibold">{{ weight('scent') }} <span class="unit">g</span></span>
          <Figure
            pointer="/scent/load"
            label="fragrance, percent of the fats it goes into"
            unit="%"
            :scale="100"
            :step="0.1"
            width="w-12"
            hide-label
          />
        </template>
      </div>
      <p v-if="line('scent')" class="note">{{ line('scent')?.note }}</p>
      <p v-if="scentNote" class="border-l-4 border-stir pl-2 text-sm">{{ scentNote }}</p>
      <p v-if="!scents.length" class="note">
        No fragrance on the shelf yet. <RouterLink to="/shelf" class="underline">Put one there</RouterLink>
      </p>
      <Says :faults="draft.faultsAt('/scent/fragrance')" />
      <AdditiveRows vessel="stir" :lines="sheet?.lines ?? []" />
      <template v-if="sheet">
        <table class="mt-3 w-full text-left text-sm">
          <caption class="note text-left">
            After the split, as set on the
            <RouterLink :to="`/recipes/${draft.id}/forecast`" class="underline">Forecast</RouterLink>
          </caption>
          <tbody>
            <tr v-for="p in sheet.portions" :key="p.name" class="row">
              <th scope="row" class="max-w-40 truncate py-1 font-medium" :title="p.name">{{ p.name }}</th>
              <td class="fig text-right">{{ grams(p.batter) }} <span class="unit">g</span></td>
              <td class="fig text-right">
                <template v-if="p.fragrance"
                  >+ {{ grams(p.fragrance) }} <span class="unit">g scent</span></template
                >
                <span v-else class="unit">unscented</span>
              </td>
            </tr>
          </tbody>
        </table>
        <SuperfatSpan class="mt-5" :superfat="sheet.superfat" :milk="sheet.milk > 0" />
        <StrataBand class="mt-4" :strata="sheet.strata" />
      </template>
    </section>
  </div>

  <div
    v-if="sheet && draft.reckoning.value?.forecast"
    class="sticky bottom-0 -mx-6 border-t border-rule bg-paper px-6 pt-2 pb-1 max-sm:static max-sm:-mx-4 max-sm:px-4"
  >
    <TraceRibbon :forecast="draft.reckoning.value.forecast" :lane="26" :steps="false" quiet />
  </div>
</template>
