<script setup lang="ts">
/** What is liquid beside water: how much of it, and where and how it goes in. */
import { computed } from 'vue'
import type { Line } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from './useDraft'
import { useMoves } from './useMoves'
import { useToWeigh } from './useToWeigh'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import LedgerRow from './LedgerRow.vue'
import type { Vessel } from './moments'
import Message from '../fields/Message.vue'
import { shared } from '../support/shared'

const props = defineProps<{ vessel: Vessel; lines: Line[] }>()
const draft = injectDraft()
const moves = useMoves()
const toWeigh = useToWeigh('liquid')
const { data: shelf } = useShelf()

const WHERE = { jug: 'in the jug', pot: 'into the fats', stir: 'at trace' }
const liquids = computed(() => (shelf.value?.liquids ?? []).filter((l) => l.kind !== 'water'))
const rows = shared(() =>
  (draft.recipe.value?.liquids ?? [])
    .map((use, i) => ({
      use,
      i,
      name: liquids.value.find((l) => l.id === use.liquid)?.name ?? use.liquid,
      line: props.lines.find((l) => l.kind === 'liquid' && l.row === i),
    }))
    .filter((row) => row.use.goes === props.vessel),
)
function change(i: number, what: Partial<{ goes: 'jug' | 'pot' | 'stir'; frozen: boolean }>) {
  draft.edit(`liquid ${i}`, (d) => void Object.assign(d.liquids[i] ?? {}, what))
}
</script>

<template>
  <ol>
    <li
      v-for="row in rows"
      :key="row.i"
      class="row"
      v-bind="moves.handle({ kind: 'liquid', row: row.i, from: vessel })"
    >
      <LedgerRow
        :name="row.name"
        :line="row.line"
        :pointer="`/liquids/${row.i}/share`"
        @out="draft.edit(`out ${row.use.liquid}`, (d) => void d.liquids.splice(row.i, 1))"
      >
        <Figure
          :pointer="`/liquids/${row.i}/share`"
          :label="`${row.name}, percent of all liquid`"
          unit="%"
          :scale="100"
          width="w-12"
          reckoned
          :quantity="toWeigh(row.i, `/liquids/${row.i}/share`)"
          hide-label
          bare
        />
        <template #more>
          <Choose
            :model-value="row.use.goes"
            :options="WHERE"
            :label="`Where ${row.name} goes`"
            @update:model-value="(goes) => change(row.i, { goes })"
          />
          <label class="flex items-center gap-1 text-sm">
            <input
              type="checkbox"
              class="size-4 accent-ink"
              :checked="row.use.frozen"
              @change="change(row.i, { frozen: ($event.target as HTMLInputElement).checked })"
            />
            frozen
          </label>
          <span v-if="row.line" class="note">{{ row.line.note.split('; ').at(-1) }}</span>
        </template>
      </LedgerRow>
      <Message :faults="draft.faultsAt(`/liquids/${row.i}/liquid`)" />
    </li>
  </ol>
</template>
