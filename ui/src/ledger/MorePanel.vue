<script setup lang="ts">
/** What a recipe can do beside being weighed: its temperatures, brief, cost, meeting of jug and pot, papers and files. */
import { computed } from 'vue'
import type { Recipe } from '../api/client'
import { injectDraft } from './useDraft'
import BarNotes from './BarNotes.vue'
import BriefPanel from './BriefPanel.vue'
import CoolingPanel from './CoolingPanel.vue'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import { useShelf } from '../api/queries'
import { money } from '../support/money'
import { printed } from '../support/paper'
import { volume } from '../support/quantity'
import Told from '../support/Told.vue'

const draft = injectDraft()
const { data: shelf } = useShelf()
const lye = computed(() => (shelf.value?.steps.lye ?? {}) as Record<Recipe['lye_stands'] & string, string>)
const sheet = draft.sheet
const cost = computed(() => (sheet.value ? draft.weighed.value?.supply?.cost : null))
const label = computed(() => (sheet.value ? draft.weighed.value?.label : null))
const history = computed(() => {
  const { versions, pours } = draft.meta
  return pours ? `version ${versions} poured · ${pours} pour${pours > 1 ? 's' : ''}` : 'not poured yet'
})
</script>

<template>
  <div class="border-b border-rule bg-chalk px-4 py-2">
    <div class="flex flex-wrap items-end gap-x-6 gap-y-2">
      <Figure pointer="/pour_celsius" label="pour at" unit="°C" width="w-11" />
      <Figure pointer="/room_celsius" label="room" unit="°C" width="w-11" />
      <span class="note">lye</span>
      <Choose
        :model-value="draft.recipe.value?.lye_stands ?? 'warm'"
        :options="lye"
        label="How warm the lye is as it meets the fats"
        @update:model-value="(how) => draft.edit('lye stands', (d) => void (d.lye_stands = how))"
      />
      <p v-if="sheet" class="text-quiet" :class="draft.stale.value ? 'stale' : ''">
        <Told class="fig font-bold text-ink" :text="sheet.total_shown" /> batter ·
        <Told class="fig font-bold text-ink" :text="sheet.fats_shown" /> oils ·
        <Told class="fig font-bold text-ink" :text="volume(sheet.millilitres)" />
      </p>
      <RouterLink
        v-if="cost"
        to="/stock"
        class="text-quiet hover:underline"
        :title="cost.unpriced.length ? `without ${cost.unpriced.join(', ')}` : 'by the prices on the shelf'"
      >
        costs <b class="fig text-ink">{{ money(cost.batch) }}</b><template v-if="cost.bar !== null">
          · <b class="fig text-ink">{{ money(cost.bar) }}</b> a bar</template
        ><template v-if="cost.unpriced.length">, {{ cost.unpriced.length }} without a price</template>
      </RouterLink>
      <span class="ml-auto text-quiet">{{ history }}</span>
    </div>
    <BriefPanel />
    <div class="grid gap-x-9 gap-y-3 pt-2 lg:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]">
      <CoolingPanel v-if="sheet" />
      <BarNotes v-if="sheet" :sheet="sheet" :label="label" />
    </div>
    <p class="flex flex-wrap gap-x-5 pt-2 text-sm leading-6 *:inline-block">
      <RouterLink :to="`/recipes/${draft.id}/compare`" class="underline">Compare</RouterLink>
      <a :href="`/api/recipes/${draft.id}/file`" class="underline" download>Recipe as a file</a>
      <template v-if="sheet">
        <a :href="`/api/recipes/${draft.id}/sheet.csv`" class="underline" download>Weights as CSV</a>
        <a :href="`/api/recipes/${draft.id}/label.pdf?${printed()}`" class="underline" download
          >Label to print</a
        >
        <a
          v-if="draft.weighed.value?.ledger?.mould?.cuts"
          :href="`/api/recipes/${draft.id}/cut-plan.pdf?${printed()}`"
          class="underline"
          download
          >Cut plan to print</a
        >
      </template>
    </p>
  </div>
</template>
