<script setup lang="ts">
/** The fragrance or the blend, what its certificates allow, and what was noted of it. */
import { computed } from 'vue'
import type { Sheet } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from './useDraft'
import { useMoves } from './useMoves'
import Figure from '../fields/Figure.vue'
import { percent } from '../support/format'
import LedgerRow from './LedgerRow.vue'
import type { Vessel } from './moments'
import Says from '../fields/Says.vue'

const props = defineProps<{ vessel: Vessel; sheet: Sheet | null }>()
const draft = injectDraft()
const moves = useMoves()
const { data: shelf } = useShelf()

const here = computed(
  () => (draft.recipe.value?.design.scent_at === 'fats' ? 'pot' : 'stir') === props.vessel,
)
const rows = computed(() =>
  (here.value ? (draft.recipe.value?.scents ?? []) : []).map((scent, i) => ({
    scent,
    i,
    fragrance: shelf.value?.fragrances.find((f) => f.id === scent.fragrance),
    line: props.sheet?.lines.find((l) => l.kind === 'fragrance' && l.row === i),
  })),
)
</script>

<template>
  <ol>
    <li
      v-for="row in rows"
      :key="row.scent.fragrance"
      class="row"
      v-bind="moves.handle({ kind: 'scent', row: row.i, from: vessel })"
    >
      <LedgerRow
        :name="row.fragrance?.name ?? 'not on the shelf'"
        :line="row.line"
        :pointer="`/scents/${row.i}/load`"
        @out="draft.edit(`out ${row.scent.fragrance}`, (d) => void d.scents.splice(row.i, 1))"
      >
        <template #name
          ><RouterLink
            :to="`/shelf/${row.scent.fragrance}`"
            class="hover:underline"
            :title="row.fragrance?.name"
          >
            {{ row.fragrance?.name ?? 'not on the shelf' }}
          </RouterLink></template
        >
        <Figure
          :pointer="`/scents/${row.i}/load`"
          :label="`${row.fragrance?.name ?? 'fragrance'}, percent of the fats it goes into`"
          unit="%"
          :scale="100"
          :step="0.1"
          width="w-12"
          hide-label
          bare
        />
      </LedgerRow>
      <p v-if="row.fragrance?.note" class="border-l-4 border-stir pl-2 text-sm">{{ row.fragrance.note }}</p>
      <Says :faults="draft.faultsAt(`/scents/${row.i}/fragrance`)" />
    </li>
  </ol>
  <p v-if="here && sheet?.limit" class="note pt-1">
    {{ rows[0]?.line?.note }}.
    <template v-if="sheet.limit.cured > 0">
      {{ percent(sheet.limit.wet, 0) }} % of what the certificates allow in the wet bar,
      <b :class="sheet.limit.cured > 1 ? 'text-iron' : ''">{{ percent(sheet.limit.cured, 0) }} %</b> when
      cured.
    </template>
    <template v-if="sheet.limit.unknown.length">
      No limit is known for {{ sheet.limit.unknown.join(' and ') }}.
    </template>
  </p>
  <p v-if="here && shelf && !shelf.fragrances.length" class="note pt-1">
    No fragrance on the shelf yet. <RouterLink to="/shelf" class="underline">Put one there</RouterLink>
  </p>
</template>
