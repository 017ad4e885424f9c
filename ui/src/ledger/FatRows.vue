<script setup lang="ts">
/** The fats: grams and percent both editable; what was typed stays, the rest shares what is left. */
import { useMemoize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Line, Recipe } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from './useDraft'
import Figure from '../fields/Figure.vue'
import LedgerRow from './LedgerRow.vue'
import NumberField from '../fields/NumberField.vue'
import Message from '../fields/Message.vue'
import { shared } from '../support/shared'
import Told from '../support/Told.vue'
import { warmth, weight, type Quantity } from '../support/quantity'

const props = defineProps<{ lines: Line[] }>()
const draft = injectDraft()
const { data: shelf } = useShelf()
const fats = computed(() => draft.recipe.value?.fats ?? [])

const fat = (id: string) => shelf.value?.fats.find((f) => f.id === id)
const lineOf = (i: number) => props.lines.find((l) => l.kind === 'fat' && l.row === i)
/** Of a recipe by weight, before it can be weighed. */
const byWeight = shared(() => draft.weighed.value?.weighing.fat_grams ?? [])
/** What the scale shows, or what a recipe by weight comes to before it can be weighed. */
const gramsOf = (i: number) => lineOf(i)?.reading ?? byWeight.value[i] ?? null
/** What cannot be read hides all weights, but the field it stands in must stay, with the weight it had. */
const stuck = ref<{ fat: string; grams: number } | null>(null)
function readable(id: string, i: number, message: string | null) {
  stuck.value = message === null ? null : { fat: id, grams: stuck.value?.grams ?? gramsOf(i) ?? 0 }
  draft.readable(`grams ${id}`, `/fats/${i}/share`, message)
}
/** Locked rows and those typed in are left alone when others make room; a list of weights grows instead. */
const locked = ref(new Set<string>())
const typed = ref(new Set<string>())
const byGrams = ref(false)
const keptBut = (id: string) =>
  fats.value.flatMap((row, i) =>
    row.fat !== id && (typed.value.has(row.fat) || locked.value.has(row.fat)) ? [i] : [],
  )
const kept = computed(() => keptBut(''))
const keptNames = computed(() => kept.value.map((i) => fat(fats.value[i]?.fat ?? '')?.name).join(', '))
function lock(id: string) {
  if (!locked.value.delete(id)) locked.value.add(id)
}
const rowOf = (id: string, of: Recipe) => of.fats.findIndex((row) => row.fat === id)

function share(id: string, value: number) {
  typed.value.add(id)
  byGrams.value = false
  const keep = keptBut(id)
  return draft.adjust(
    (of) => (rowOf(id, of) < 0 ? null : { kind: 'fat_share', row: rowOf(id, of), share: value, keep }),
    `/fats/${id}/share`,
    (d) => {
      const row = d.fats[rowOf(id, d)]
      if (row) row.share = value
    },
  )
}
function weigh(id: string, grams: number) {
  typed.value.add(id)
  byGrams.value = true
  return draft.adjust((of) =>
    rowOf(id, of) < 0 ? null : { kind: 'fat_grams', row: rowOf(id, of), grams, keep: keptBut(id) },
  )
}
/** A weight typed where the percent stand. */
async function weighed(id: string, typed: Quantity): Promise<string | null> {
  if ('basis' in typed && typed.basis === 'percent') await share(id, typed.amount / 100)
  else if (!('unit' in typed) || typed.unit !== 'g') return 'Fats are weighed: type a weight or %.'
  else await weigh(id, typed.amount)
  return draft.actFaults.value[0]?.message ?? null
}
/** The same function each time the row is drawn. */
const weighedAs = useMemoize((id: string) => (typed: Quantity) => weighed(id, typed))
function add(id: string) {
  void draft.adjust({
    kind: 'add_fat',
    fat: id,
    keep: kept.value,
    on_top: byGrams.value && draft.recipe.value?.size.kind === 'fats',
  })
}
function out(id: string) {
  typed.value.delete(id)
  draft.edit(`out ${id}`, (d) => void d.fats.splice(rowOf(id, d), 1))
}
/** Reckon with the saponification value of the lot in hand, or with the table's again. */
function certify(id: string, sv: number | null) {
  draft.edit(`certificate ${id}`, (d) => {
    const row = d.fats[rowOf(id, d)]
    if (row) row.sv = sv
  })
}
defineExpose({ add })
</script>

<template>
  <Message :faults="draft.faultsAt('/fats')" @mend="draft.mend" />
  <button
    v-if="fats.length > 1 && draft.faultsAt('/fats').length"
    type="button"
    class="pb-1 text-sm underline"
    @click="draft.adjust({ kind: 'balance', keep: kept.length < fats.length ? kept : [] })"
  >
    {{
      kept.length && kept.length < fats.length ? `Keep ${keptNames}, scale the others` : 'Scale all to 100 %'
    }}
  </button>
  <ol>
    <li v-for="(row, i) in fats" :key="row.fat" class="row group relative">
      <LedgerRow
        :name="fat(row.fat)?.name ?? row.fat"
        :line="lineOf(i)"
        :pointer="`/fats/${i}/share`"
        @out="out(row.fat)"
      >
        <template v-if="!lineOf(i) && gramsOf(i) !== null" #weight
          ><span class="fig pt-1 text-right text-lg leading-snug font-bold"
            ><Told :text="weight(gramsOf(i) ?? 0)" unit-class="text-base" /></span
        ></template>
        <NumberField
          :model-value="row.share"
          :pointer="`/fats/${i}/share`"
          :label="`${fat(row.fat)?.name}, percent of fats`"
          :faults="draft.faultsAt(`/fats/${i}/share`)"
          :cautions="draft.cautionsAt(`/fats/${i}/share`)"
          unit="%"
          :scale="100"
          width="w-13"
          hide-label
          bare
          :quantity="weighedAs(row.fat)"
          @update:model-value="(v) => share(row.fat, v)"
          @unreadable="(message) => draft.readable(`share ${row.fat}`, `/fats/${i}/share`, message)"
        />
        <template #more>
          <NumberField
            v-if="gramsOf(i) !== null || stuck?.fat === row.fat"
            :model-value="stuck?.fat === row.fat ? stuck.grams : (gramsOf(i) ?? 0)"
            :label="`${fat(row.fat)?.name}, weight`"
            unit="g"
            width="w-18"
            hide-label
            bare
            lazy
            @update:model-value="(g) => weigh(row.fat, g)"
            @unreadable="(message) => readable(row.fat, i, message)"
          />
          <button
            type="button"
            class="underline"
            :aria-pressed="locked.has(row.fat)"
            :aria-label="`Lock ${fat(row.fat)?.name} when the rest is balanced`"
            @click="lock(row.fat)"
          >
            {{ locked.has(row.fat) ? 'locked' : 'lock' }}
          </button>
          <button
            v-if="row.sv == null && fat(row.fat)"
            type="button"
            class="underline"
            @click="certify(row.fat, fat(row.fat)?.sv ?? null)"
          >
            certificate
          </button>
          <span v-if="fat(row.fat)?.melts" class="text-quiet"
            >melts by {{ warmth(fat(row.fat)?.melts ?? 0) }}</span
          >
        </template>
      </LedgerRow>
      <Message :faults="draft.faultsAt(`/fats/${i}/fat`)" />
      <p v-if="row.sv != null" class="note flex flex-wrap items-baseline gap-x-2 pb-1">
        <Figure :pointer="`/fats/${i}/sv`" label="saponification value" unit="mg KOH/g" width="w-16" />
        <button type="button" class="min-h-6 underline" @click="certify(row.fat, null)">
          as in the tables
        </button>
      </p>
      <span
        class="absolute bottom-0 left-0 h-0.75 bg-pot"
        :style="{ width: `${Math.min(Math.max(row.share, 0), 1) * 100}%` }"
        aria-hidden="true"
      />
    </li>
  </ol>
</template>
