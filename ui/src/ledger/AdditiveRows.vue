<script setup lang="ts">
/** What is weighed into one vessel per kilogram of fats: its dose, and where, into what and in what it goes. */
import { computed } from 'vue'
import type { Line, Recipe } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from './useDraft'
import { useMoves } from './useMoves'
import { usePebbles } from './usePebbles'
import { useToWeigh } from './useToWeigh'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import LedgerRow from './LedgerRow.vue'
import { useMoments, type Dose, type Moment, type Vessel } from './moments'
import Message from '../fields/Message.vue'
import TextField from '../fields/TextField.vue'
import { shared } from '../support/shared'

const props = defineProps<{ vessel: Vessel; lines: Line[] }>()
const draft = injectDraft()
const moves = useMoves()
const { words: MOMENTS, vesselOf } = useMoments()
const toWeigh = useToWeigh('additive')
const { data: shelf } = useShelf()
const pebbles = usePebbles()

const rows = shared(() =>
  (draft.recipe.value?.additives ?? []).flatMap((dose, i) => {
    const additive = shelf.value?.additives.find((a) => a.id === dose.additive)
    const moment: Moment = dose.moment ?? additive?.moment ?? 'trace'
    if (vesselOf(moment) !== props.vessel) return []
    const line = props.lines.find((l) => l.kind === 'additive' && l.row === i)
    const on = draft.sheet.value?.doses[i]
    return [
      {
        i,
        dose,
        moment,
        name: line?.name ?? additive?.name ?? dose.additive,
        line,
        on,
      },
    ]
  }),
)
type Basis = Recipe['additives'][number]['basis']
const BASES: Record<Basis, string> = {
  'g/kg': 'g/kg fats',
  percent: '% of fats',
  'tsp/lb': 'tsp/lb fats',
  'tsp/lb batter': 'tsp/lb batter',
}
const SHORT: Record<Basis, string> = {
  'g/kg': 'g/kg',
  percent: '%',
  'tsp/lb': 'tsp/lb',
  'tsp/lb batter': 'tsp/lb',
}
const layers = computed(() => draft.recipe.value?.design.batching === 'layers')
const portions = shared(() => (draft.recipe.value?.design.portions ?? []).map((p) => p.name))
const oils = computed(() => {
  const used = new Set(draft.recipe.value?.fats.map((f) => f.fat))
  const liquid = (shelf.value?.fats ?? []).filter(
    (f) => f.kind === 'fat' && (used.has(f.id) || f.melts === null),
  )
  return Object.fromEntries([
    ['no', 'not dispersed'],
    ['water', 'in water'],
    ...liquid.map((f) => [f.id, `in ${f.name.toLowerCase()}`] as [string, string]),
  ]) as Record<string, string>
})

function named(i: number, called: string) {
  draft.edit(`/additives/${i}/called`, (d) => void Object.assign(d.additives[i] ?? {}, { called }))
}

function change(i: number, what: Partial<Dose>) {
  draft.edit(`dose ${i} ${Object.keys(what).join()}`, (d) => void Object.assign(d.additives[i] ?? {}, what))
}

/** Another basis starts from what the server says the dose is on it, so it stays what it was. */
function rebase(i: number, basis: Basis) {
  const on = draft.sheet.value?.doses[i]
  const amount = on && {
    'g/kg': on.per_kg,
    percent: on.percent,
    'tsp/lb': on.tsp_lb,
    'tsp/lb batter': on.tsp_lb_batter,
  }
  change(i, amount ? { basis, amount: Number(amount[basis].toFixed(3)) } : { basis })
}

/** One portion more or less gets it; the last one named stays named. */
function into(i: number, now: readonly string[], name: string) {
  const names = now.includes(name) ? now.filter((n) => n !== name) : [...now, name]
  if (names.length) change(i, { into: names })
}

const goes = (row: number, moment: Moment) => draft.adjust({ kind: 'move_dose', row, moment })
const disperse = (row: number, into: string) => draft.adjust({ kind: 'disperse', row, into })
</script>

<template>
  <ol>
    <li
      v-for="row in rows"
      :key="`${row.dose.additive} ${row.i}`"
      class="row"
      v-bind="moves.handle({ kind: 'additive', row: row.i, from: vessel })"
    >
      <LedgerRow
        :name="row.name"
        :line="row.line"
        :pointer="`/additives/${row.i}/amount`"
        :tints="row.dose.into.length ? pebbles((p) => row.dose.into.includes(p.name)) : []"
        :shown="row.on?.shown"
        @out="draft.edit(`out ${row.dose.additive}`, (d) => void d.additives.splice(row.i, 1))"
      >
        <span class="flex items-baseline gap-1">
          <Figure
            :pointer="`/additives/${row.i}/amount`"
            :label="`${row.name}, ${BASES[row.dose.basis]}`"
            width="w-11"
            reckoned
            :quantity="toWeigh(row.i, `/additives/${row.i}/amount`)"
            hide-label
            bare
          />
          <span class="unit w-11 text-sm">{{ SHORT[row.dose.basis] }}</span>
        </span>
        <template #more>
          <span class="basis-full">
            <b v-if="row.on?.spoons" class="fig">{{ row.on.spoons }}</b>
            {{ row.on?.told || MOMENTS[row.moment] }}
          </span>
          <Choose
            :model-value="row.dose.basis"
            :options="BASES"
            :label="`How ${row.name} is dosed`"
            @update:model-value="(basis) => rebase(row.i, basis)"
          />

          <Choose
            :model-value="row.moment"
            :options="MOMENTS"
            :label="`When ${row.name} goes in`"
            @update:model-value="(moment) => goes(row.i, moment)"
          />
          <label class="flex items-baseline gap-1 text-sm">
            <span class="note">which</span>
            <TextField
              class="w-28 text-sm"
              :model-value="row.dose.called"
              :label="`Which ${row.name}, if there are several`"
              placeholder="blue, say"
              @update:model-value="(called) => named(row.i, called)"
            />
          </label>
          <span
            v-if="portions.length > 1 && (vessel === 'stir' || (vessel === 'pot' && layers))"
            class="flex basis-full flex-wrap gap-1.5"
            role="group"
            :aria-label="`Which portions ${row.name} goes into`"
          >
            <button
              type="button"
              class="key"
              :class="row.dose.into.length ? '' : 'key-main'"
              :aria-pressed="!row.dose.into.length"
              @click="change(row.i, { into: [] })"
            >
              all of the batter
            </button>
            <button
              v-for="name in portions"
              :key="name"
              type="button"
              class="key"
              :class="row.dose.into.includes(name) ? 'key-main' : ''"
              :aria-pressed="row.dose.into.includes(name)"
              @click="into(row.i, row.dose.into, name)"
            >
              {{ name }}
            </button>
          </span>
          <template v-if="vessel === 'stir'">
            <Choose
              class="max-w-36"
              :model-value="row.dose.carrier ? (row.dose.carrier.fat ?? 'water') : 'no'"
              :options="oils"
              :label="`What ${row.name} is dispersed in`"
              @update:model-value="(into) => disperse(row.i, into)"
            />
            <Figure
              v-if="row.dose.carrier"
              :pointer="`/additives/${row.i}/carrier/parts`"
              :label="`Parts to one of ${row.name}`"
              unit="parts"
              width="w-9"
              hide-label
            />
          </template>
        </template>
      </LedgerRow>
      <Message
        :faults="[
          ...draft.faultsAt(`/additives/${row.i}/additive`),
          ...draft.faultsAt(`/additives/${row.i}/into`),
          ...(row.dose.carrier ? [] : draft.faultsAt(`/additives/${row.i}/carrier/parts`)),
        ]"
        :cautions="draft.cautionsAt(`/additives/${row.i}/moment`)"
      />
    </li>
  </ol>
</template>
