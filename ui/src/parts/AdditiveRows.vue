<script setup lang="ts">
/** What is weighed into one vessel per kilogram of fats, and a way to add more. */
import { computed } from 'vue'
import type { Line, Recipe } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from '../composables/useDraft'
import Choose from './Choose.vue'
import Figure from './Figure.vue'
import LedgerRow from './LedgerRow.vue'
import Says from './Says.vue'

const props = defineProps<{ vessel: 'pot' | 'jug' | 'stir'; lines: Line[] }>()
const draft = injectDraft()
const { data: shelf } = useShelf()

const known = computed(() => (shelf.value?.additives ?? []).filter((a) => a.vessel === props.vessel))
const rows = computed(() =>
  (draft.recipe.value?.additives ?? []).flatMap((dose, i) => {
    const additive = known.value.find((a) => a.id === dose.additive)
    return additive ? [{ i, dose, additive, line: props.lines.find((l) => l.key === dose.additive) }] : []
  }),
)
type Basis = Recipe['additives'][number]['basis']
const BASES: Record<Basis, string> = { 'g/kg': 'g/kg', percent: '%', 'tsp/lb': 'tsp/lb' }

/** Another basis starts from what the server says the dose is on it, so it stays what it was. */
function rebase(i: number, basis: Basis) {
  const on = draft.sheet.value?.doses[i]
  draft.edit(`basis ${i}`, (d) => {
    const dose = d.additives[i]
    if (!dose) return
    dose.basis = basis
    if (on)
      dose.amount = Number({ 'g/kg': on.per_kg, percent: on.percent, 'tsp/lb': on.tsp_lb }[basis].toFixed(3))
  })
}
</script>

<template>
  <ol>
    <li v-for="row in rows" :key="row.additive.id" class="row">
      <LedgerRow
        :name="row.additive.name"
        :line="row.line"
        @out="draft.edit(`out ${row.additive.id}`, (d) => void d.additives.splice(row.i, 1))"
      >
        <span class="flex items-start">
          <Figure
            :pointer="`/additives/${row.i}/amount`"
            :label="`${row.additive.name}, ${BASES[row.dose.basis]}`"
            width="w-10"
            hide-label
          />
          <Choose
            class="w-14 px-0 text-xs text-quiet"
            :model-value="row.dose.basis"
            :options="BASES"
            :label="`How ${row.additive.name} is dosed`"
            @update:model-value="(basis) => rebase(row.i, basis)"
          />
        </span>
      </LedgerRow>
      <p class="note pb-0.5">{{ row.line?.note || row.additive.moment }}</p>
      <Says :faults="draft.faultsAt(`/additives/${row.i}/additive`)" />
    </li>
  </ol>
</template>
