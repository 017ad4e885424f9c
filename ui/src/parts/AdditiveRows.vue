<script setup lang="ts">
/** What is weighed into one vessel per kilogram of fats, and a way to add more. */
import { computed } from 'vue'
import type { Line } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from '../composables/useDraft'
import Figure from './Figure.vue'
import { grams } from './format'
import PickList from './PickList.vue'
import Says from './Says.vue'

const props = defineProps<{ vessel: 'pot' | 'jug' | 'stir'; lines: Line[] }>()
const draft = injectDraft()
const { data: shelf } = useShelf()

const known = computed(() => (shelf.value?.additives ?? []).filter((a) => a.vessel === props.vessel))
const rows = computed(() =>
  (draft.recipe.value?.additives ?? []).flatMap((dose, i) => {
    const additive = known.value.find((a) => a.id === dose.additive)
    return additive ? [{ i, additive, line: props.lines.find((l) => l.key === dose.additive) }] : []
  }),
)
const left = computed(() =>
  known.value
    .filter((a) => !draft.recipe.value?.additives.some((d) => d.additive === a.id))
    .map((a) => ({ id: a.id, name: a.name, hint: `${a.usual} g/kg usual` })),
)
const title = { pot: 'Add a clay', jug: 'Add sugar, acid, salt', stir: 'Add a stir-in' }

function add(id: string | null) {
  const additive = known.value.find((a) => a.id === id)
  if (additive)
    draft.edit(
      'add additive',
      (d) => void d.additives.push({ additive: additive.id, per_kg: additive.usual }),
    )
}
</script>

<template>
  <ol>
    <li v-for="row in rows" :key="row.additive.id" class="row">
      <div class="ledger-row">
        <span class="min-w-0 truncate" :title="row.additive.name">{{ row.additive.name }}</span>
        <span class="fig text-right font-semibold">
          {{ row.line ? grams(row.line.grams) : '—' }} <span class="unit">g</span>
        </span>
        <Figure
          :pointer="`/additives/${row.i}/per_kg`"
          :label="`${row.additive.name}, grams per kilogram of fats`"
          unit="g/kg"
          width="w-12"
          hide-label
        />
        <button
          type="button"
          class="text-quiet hover:text-iron"
          :aria-label="`Take out ${row.additive.name}`"
          @click="draft.edit(`out ${row.additive.id}`, (d) => void d.additives.splice(row.i, 1))"
        >
          ×
        </button>
      </div>
      <p class="note pb-0.5">{{ row.line?.note || row.additive.moment }}</p>
      <Says
        :faults="draft.faultsAt(`/additives/${row.i}/additive`)"
        :cautions="draft.cautionsAt(`/additives/${row.i}`)"
      />
    </li>
  </ol>
  <PickList v-if="left.length" class="pt-1.5" :label="title[vessel]" :options="left" @pick="add" />
</template>
