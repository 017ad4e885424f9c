<script setup lang="ts">
/** The portions in the order in which they are weighed off, each with its cup's colour, scent and the pot's reading. */
import { computed, ref, watch } from 'vue'
import type { Act, Recipe, Schemas } from '../api/client'
import { useShelf } from '../api/queries'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import NumberField from '../fields/NumberField.vue'
import PickList from '../fields/PickList.vue'
import Message from '../fields/Message.vue'
import TextField from '../fields/TextField.vue'
import { injectDraft } from '../ledger/useDraft'
import { percent } from '../support/format'
import TintPick from './TintPick.vue'
import { length } from '../support/quantity'
import { scentsApart } from './blocks'

type Row = Schemas['LedgerRow']
const draft = injectDraft()
const { data: shelf } = useShelf()
const ledger = computed(() => (draft.sheet.value ? draft.weighed.value?.ledger : null))
const portions = computed(() => draft.recipe.value?.design.portions ?? [])
const scented = computed(
  () => !!draft.recipe.value?.scents.length && scentsApart(draft.recipe.value.design.scent_at),
)
const open = ref<number | null>(null)

interface Shown {
  i: number
  row: Row | null
}
/** The order in which they are weighed off, kept while nothing can be weighed: a field in the hand stays where it is. */
const order = ref<number[]>([])
watch(
  () => ledger.value?.rows,
  (told) => told && (order.value = told.map((row) => row.portion)),
  { immediate: true },
)
const rows = computed<Shown[]>(() => {
  const told = ledger.value?.rows ?? []
  if (told.length === portions.value.length) return told.map((row) => ({ i: row.portion, row }))
  const kept = order.value.length === portions.value.length ? order.value : portions.value.map((_, i) => i)
  return kept.map((i) => ({ i, row: null }))
})
const pigments = computed(() =>
  (shelf.value?.additives ?? []).filter((a) => ['pigment', 'clay', 'powder'].includes(a.kind)),
)

const portion = (
  what: string,
  i: number,
  change: (p: NonNullable<(typeof portions.value)[number]>, all: typeof portions.value) => void,
) =>
  draft.edit(what, (d) => {
    const one = d.design.portions[i]
    if (one) change(one, d.design.portions)
  })
function rename(i: number, name: string) {
  void draft.adjust({ kind: 'rename_portion', row: i, name }, `/design/portions/${i}/name`, (d) => {
    const one = d.design.portions[i]
    if (one) one.name = name
  })
}
/** An act on the portion that stands here now, wherever it stands by then and whatever it is called. */
function here(i: number, act: Record<string, unknown>) {
  const name = portions.value[i]?.name
  return (of: Recipe) => {
    const row = of.design.portions.findIndex((p) => p.name === name)
    return { ...act, row: row < 0 ? i : row } as Act
  }
}
const amount = (i: number, of: { amount: number; unit: 'g' | '%' | 'cup' }) =>
  draft.adjust(here(i, { kind: 'portion_amount', ...of }))
const SCENT = { '0': 'no scent', '0.4': 'a little', '1': 'full scent', other: 'in grams' }
const scentOf = (share: number) => (share === 0 ? '0' : share === 0.4 ? '0.4' : share === 1 ? '1' : 'other')
function scent(i: number, how: string) {
  if (how === 'other') open.value = i
  else portion(`scent ${i}`, i, (p) => void (p.scent = Number(how)))
}
function colour(i: number, additive: string) {
  const found = shelf.value?.additives.find((a) => a.id === additive)
  const into = portions.value[i]?.name
  if (!found || !into) return
  draft.edit(`colour ${i}`, (d) => {
    d.additives.push({
      additive,
      amount: found.usual,
      basis: 'g/kg',
      into,
      moment: found.moment === 'trace' ? null : 'trace',
      // In oil where it usually is: in the fat there is most of.
      carrier: found.how.includes('in oil')
        ? { fat: [...d.fats].sort((a, b) => b.share - a.share)[0]?.fat ?? null, parts: 3 }
        : { fat: null, parts: 2 },
      called: '',
    })
  })
}
const uncolour = (row: number) => draft.edit(`uncolour ${row}`, (d) => void d.additives.splice(row, 1))
const of = (i: number) => ({
  '': 'from the pot',
  ...Object.fromEntries(portions.value.filter((_, j) => j !== i).map((p) => [p.name, `from ${p.name}`])),
})
const COLOURED = { hand: 'coloured by hand', stick: 'coloured with the stick', not: 'not coloured' }
const move = (i: number, by: number) =>
  draft.adjust({ kind: 'move_portion', row: i, to: Math.max(i + by, 0) })
</script>

<template>
  <section aria-labelledby="portions">
    <div class="ledger-head flex-wrap [--hue:var(--color-stir)]">
      <h2 id="portions">Portions</h2>
      <span v-if="ledger" class="note whitespace-nowrap">pot stands at {{ ledger.pot_shown }}</span>
      <span class="flex items-baseline gap-1 text-sm whitespace-nowrap">
        <span class="note">empty pot</span>
        <Figure pointer="/design/pot" label="Weight of the empty pot" unit="g" width="w-14" hide-label />
      </span>
      <button
        v-if="portions.length < 24"
        type="button"
        class="ml-auto min-h-6 text-sm underline"
        @click="draft.adjust({ kind: 'add_portion' })"
      >
        Add a portion
      </button>
    </div>
    <Message :faults="draft.faultsAt('/design/portions')" />
    <ol>
      <li v-for="{ i, row } in rows" :key="i" class="row py-1" :class="draft.stale.value ? 'stale' : ''">
        <div
          class="grid grid-cols-[1.75rem_minmax(0,1fr)_4.9rem_5.4rem_auto_1.25rem] items-center gap-x-2 max-sm:grid-cols-[1.75rem_minmax(0,1fr)_4.9rem_5.4rem_1.25rem]"
        >
          <TintPick
            :tint="row?.tint ?? portions[i]?.tint ?? '#c99a5b'"
            :name="portions[i]?.name ?? ''"
            @pick="(tint) => portion(`/design/portions/${i}/tint`, i, (p) => void (p.tint = tint))"
          />
          <TextField
            class="w-full min-w-0 font-semibold text-ellipsis"
            :label="`Name of portion ${i + 1}`"
            :model-value="portions[i]?.name ?? ''"
            :faulty="draft.faultsAt(`/design/portions/${i}/name`).length > 0"
            @update:model-value="(name) => rename(i, name)"
          />
          <NumberField
            :model-value="portions[i]?.share ?? 0"
            :label="`${portions[i]?.name || 'portion'}, percent of the batter`"
            hide-label
            unit="%"
            :scale="100"
            width="w-11"
            :pointer="`/design/portions/${i}/share`"
            :faults="draft.faultsAt(`/design/portions/${i}/share`)"
            bare
            :cautions="draft.cautionsAt(`/design/portions/${i}/share`)"
            lazy
            @mend="draft.mend"
            @update:model-value="(share) => amount(i, { amount: 100 * share, unit: '%' })"
          />
          <NumberField
            v-if="row"
            :model-value="row.batter"
            coarse
            :label="`${row.name}, weight of batter`"
            hide-label
            unit="g"
            width="w-14"
            lazy
            @update:model-value="(grams) => amount(i, { amount: grams, unit: 'g' })"
          />
          <Choose
            v-if="scented"
            class="max-sm:hidden"
            :model-value="scentOf(portions[i]?.scent ?? 1)"
            :options="SCENT"
            :label="`Scent of ${portions[i]?.name}`"
            @update:model-value="(how) => scent(i, how)"
          />
          <button
            type="button"
            class="take-out"
            :aria-expanded="open === i"
            :aria-label="`More of ${portions[i]?.name || 'this portion'}`"
            @click="open = open === i ? null : i"
          >
            {{ open === i ? '▴' : '▾' }}
          </button>
        </div>
        <p v-if="row" class="note flex flex-wrap items-baseline gap-x-3 pl-9">
          <span v-if="scented && row.scent"
            >scent <b class="fig text-ink">{{ row.scent_shown }}</b></span
          >
          <span v-for="c in row.colours" :key="c.row">
            {{ c.name }} <b class="fig text-ink">{{ c.shown }}</b>, {{ c.spoons }}
          </span>
          <span v-if="row.kept">keep {{ row.kept }} for the top</span>
          <span v-if="row.raw" class="ml-auto">{{ row.raw }}</span>
          <span v-else-if="row.stays" class="ml-auto">stays in the pot</span>
          <span v-else class="fig ml-auto whitespace-nowrap"
            >{{ row.source || row.batch || 'pot' }} {{ row.reads }} →
            <b class="text-base text-ink">{{ row.until }}</b></span
          >
        </p>
        <Message
          :id="`message-/design/portions/${i}/share`"
          class="pl-9"
          :faults="draft.faultsAt(`/design/portions/${i}/share`)"
          :cautions="draft.cautionsAt(`/design/portions/${i}/share`)"
          @mend="draft.mend"
        />
        <p v-if="row?.scent_says" class="message pl-9">{{ row.scent_says }}</p>
        <p v-for="c in row?.colours.filter((c) => c.tiny) ?? []" :key="`tiny ${c.row}`" class="note pl-9">
          {{ c.shown }} of {{ c.name }} is less than your scale shows: disperse ten times as much, use a tenth
          of it.
        </p>
        <Message :faults="draft.faultsAt(`/design/portions/${i}/name`)" />
        <Message
          :faults="[
            ...draft.faultsAt(`/design/portions/${i}/of`),
            ...draft.faultsAt(`/design/portions/${i}/scent`),
          ]"
        />
        <div v-if="open === i" class="flex flex-wrap items-center gap-x-4 gap-y-1.5 py-1.5 pl-9 text-sm">
          <span v-if="row" class="flex items-baseline gap-1">
            <NumberField
              :model-value="row.cups"
              :label="`${row.name}, cups of batter`"
              hide-label
              unit="cups"
              width="w-12"
              :step="0.25"
              lazy
              @update:model-value="(cups) => amount(i, { amount: cups, unit: 'cup' })"
            />
          </span>
          <label class="flex items-center gap-1.5">
            <input
              type="checkbox"
              class="size-4 accent-ink"
              :checked="portions[i]?.rest"
              @change="
                portion(`rest ${i}`, i, (p, all) => {
                  const on = ($event.target as HTMLInputElement).checked
                  for (const other of all) other.rest = false
                  p.rest = on
                })
              "
            />
            the rest stays here
          </label>
          <Choose
            v-if="scented"
            class="sm:hidden"
            :model-value="scentOf(portions[i]?.scent ?? 1)"
            :options="SCENT"
            :label="`How much scent for ${portions[i]?.name}`"
            @update:model-value="(how) => scent(i, how)"
          />
          <span v-if="scented && row" class="flex items-baseline gap-1">
            <NumberField
              :model-value="Number(row.scent.toFixed(2))"
              :label="`${row.name}, weight of fragrance`"
              unit="g"
              hide-label
              width="w-12"
              :step="0.5"
              lazy
              @update:model-value="(grams) => draft.adjust(here(i, { kind: 'portion_scent', grams }))"
            />
            of scent
          </span>
          <Choose
            :model-value="portions[i]?.of ?? ''"
            :options="of(i)"
            label="Where it is taken from"
            @update:model-value="(name) => portion(`of ${i}`, i, (p) => void (p.of = name))"
          />
          <label class="flex items-baseline gap-1.5">
            <span class="note">own lye-in</span>
            <TextField
              class="w-24"
              placeholder="none"
              lazy
              :model-value="portions[i]?.batch ?? ''"
              :label="`Batch of ${portions[i]?.name}`"
              @update:model-value="(batch) => portion(`batch ${i}`, i, (p) => void (p.batch = batch))"
            />
          </label>
          <Choose
            :model-value="portions[i]?.coloured ?? 'hand'"
            :options="COLOURED"
            label="How its colour is worked in"
            @update:model-value="(how) => portion(`coloured ${i}`, i, (p) => void (p.coloured = how))"
          />
          <PickList class="w-52" label="Add a colourant" :options="pigments" @pick="(id) => colour(i, id)" />
          <span v-for="c in row?.colours ?? []" :key="`figure ${c.row}`" class="flex items-baseline gap-1">
            {{ c.name }}
            <Figure
              :pointer="`/additives/${c.row}/amount`"
              :label="`${c.name}, dose`"
              hide-label
              width="w-12"
            />
            <span class="note">{{ draft.recipe.value?.additives[c.row]?.basis }} · {{ c.a_cup }} a cup</span>
            <button
              type="button"
              class="take-out"
              :aria-label="`Take ${c.name} out`"
              @click="uncolour(c.row)"
            >
              ×
            </button>
          </span>
          <span v-if="row?.uneven" class="note">superfat here {{ percent(row.superfat) }} %</span>
          <span v-if="row?.height" class="note">
            {{ length(row.height) }} of the mould; 1 % more of it is
            {{ length(10 * (row.a_percent ?? 0), 'mm') }}
          </span>
          <span class="ml-auto flex gap-2">
            <button type="button" class="key" aria-label="Weigh it off earlier" @click="move(i, -1)">
              ↑
            </button>
            <button type="button" class="key" aria-label="Weigh it off later" @click="move(i, 1)">↓</button>
            <button
              type="button"
              class="key"
              :disabled="portions.length < 2"
              @click="((open = null), draft.adjust({ kind: 'take_portion', row: i }))"
            >
              Take {{ portions[i]?.name || 'it' }} out
            </button>
          </span>
        </div>
      </li>
    </ol>
    <div class="flex flex-wrap items-baseline gap-x-5 gap-y-1 pt-1.5 text-sm">
      <span v-if="ledger?.scenting">
        <b class="fig">{{ ledger.scenting.shown }}</b> scent<template v-if="ledger.scenting.left">
          of {{ ledger.scenting.left }} in the bottle</template
        >
      </span>
      <span v-if="ledger?.scenting?.message" class="message">{{ ledger.scenting.message }}</span>
      <label class="flex items-baseline gap-1">
        <span class="note">left in each cup</span>
        <Figure pointer="/design/residue" label="Left in each cup" unit="g" width="w-10" hide-label />
      </label>
      <label class="flex items-center gap-1.5">
        <input
          type="checkbox"
          class="size-4 accent-ink"
          :checked="draft.recipe.value?.count_carriers"
          @change="
            draft.edit(
              'carriers',
              (d) => void (d.count_carriers = ($event.target as HTMLInputElement).checked),
            )
          "
        />
        <span class="note">dispersing oil counts in the superfat</span>
      </label>
    </div>
    <p v-for="message in ledger?.alike ?? []" :key="message" class="pt-1 text-sm">{{ message }}</p>
  </section>
</template>
