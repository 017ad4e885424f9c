<script setup lang="ts">
/** The portions in the order in which they are weighed off, each with its cup's colour, scent and the pot's reading. */
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import NumberField from '../fields/NumberField.vue'
import Message from '../fields/Message.vue'
import TextField from '../fields/TextField.vue'
import { injectDraft } from '../ledger/useDraft'
import PortionMore from './PortionMore.vue'
import TintPick from './TintPick.vue'
import { usePortions } from './usePortions'

type Row = Schemas['LedgerRow']
const draft = injectDraft()
const ledger = computed(() => (draft.sheet.value ? draft.weighed.value?.ledger : null))
const { portions, scented, portion, amount, scent: giveScent, scentOf, SCENT } = usePortions(draft)
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

function rename(i: number, name: string) {
  void draft.adjust({ kind: 'rename_portion', row: i, name }, `/design/portions/${i}/name`, (d) => {
    const one = d.design.portions[i]
    if (one) one.name = name
  })
}
function scent(i: number, how: string) {
  if (how === 'other') open.value = i
  else giveScent(i, how)
}
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
        <PortionMore v-if="open === i" :i="i" :row="row" @close="open = null" />
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
