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
import { percent } from '../support/format'
import Swatch from '../support/Swatch.vue'
import Told from '../support/Told.vue'
import TintPick from './TintPick.vue'
import { usePortions } from './usePortions'

type Row = Schemas['LedgerRow']
const draft = injectDraft()
const ledger = computed(() => (draft.sheet.value ? draft.weighed.value?.ledger : null))
const { portions, scented, portion, amount, scent: giveScent, scentOf, SCENT } = usePortions(draft)
/** Rows that stand open. */
const open = ref(new Set<number>())
function toggle(i: number) {
  if (!open.value.delete(i)) open.value.add(i)
}

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
</script>

<template>
  <section aria-labelledby="portions">
    <div class="ledger-head flex-wrap [--hue:var(--color-stir)]">
      <h2 id="portions">Portions</h2>
      <span v-if="ledger && !ledger.rows.some((r) => r.raw)" class="note whitespace-nowrap"
        >pot reads {{ ledger.pot_shown }}</span
      >
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
        <button
          type="button"
          class="grid w-full grid-cols-[1.75rem_minmax(0,1fr)_auto_auto] items-center gap-x-3 py-1 text-left"
          :aria-expanded="open.has(i)"
          @click="toggle(i)"
        >
          <Swatch :tint="row?.tint ?? portions[i]?.tint ?? '#c99a5b'" class="w-6.5!" />
          <span class="min-w-0">
            <b class="block truncate text-lg leading-tight">{{ portions[i]?.name || 'no name' }}</b>
            <span class="note"
              >{{ percent(portions[i]?.share ?? 0) }} %<template v-if="scented"
                >, {{ row?.scent ? `scent ${row.scent_shown}` : 'no scent' }}</template
              ></span
            >
          </span>
          <span v-if="row" class="fig text-lg font-bold whitespace-nowrap"
            ><Told :text="row.shown" unit-class="text-base"
          /></span>
          <span
            v-if="row"
            class="note fig text-right max-sm:w-24 max-sm:whitespace-normal"
            :class="row.raw ? 'max-w-44' : 'whitespace-nowrap'"
          >
            <template v-if="row.raw">{{ row.raw }}</template>
            <template v-else-if="row.stays">stays in the pot</template>
            <template v-else
              >{{ row.source || row.batch || 'pot' }} {{ row.reads }} →
              <b class="text-ink">{{ row.until }}</b></template
            >
          </span>
        </button>
        <p v-if="row && (row.colours.length || row.kept)" class="note flex flex-wrap gap-x-3 pl-10">
          <span v-for="c in row.colours" :key="c.row">
            {{ c.name }} <b class="fig text-ink">{{ c.shown }}</b>, {{ c.spoons }}
          </span>
          <span v-if="row.kept">keep {{ row.kept }} for the top</span>
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
        <Message
          class="pl-9"
          :faults="draft.faultsAt(`/design/portions/${i}/name`)"
          :cautions="draft.cautionsAt(`/design/portions/${i}/white`)"
        />
        <Message
          :faults="[
            ...draft.faultsAt(`/design/portions/${i}/of`),
            ...draft.faultsAt(`/design/portions/${i}/scent`),
          ]"
        />
        <div v-if="open.has(i)" class="border-l-4 border-stir bg-chalk py-1 pl-3">
          <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
            <TintPick
              :tint="row?.tint ?? portions[i]?.tint ?? '#c99a5b'"
              :name="portions[i]?.name ?? ''"
              @pick="(tint) => portion(`/design/portions/${i}/tint`, i, (p) => void (p.tint = tint))"
            />
            <TextField
              class="w-40 min-w-0 font-semibold text-ellipsis"
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
              width="w-16"
              lazy
              @update:model-value="(grams) => amount(i, { amount: grams, unit: 'g' })"
            />
            <Choose
              v-if="scented"
              :model-value="scentOf(portions[i]?.scent ?? 1)"
              :options="SCENT"
              :label="`Scent of ${portions[i]?.name}`"
              @update:model-value="(how) => how !== 'other' && giveScent(i, how)"
            />
          </div>
          <PortionMore :i="i" :row="row" @close="open.clear()" />
        </div>
      </li>
    </ol>
    <details class="pt-1.5 text-sm">
      <summary class="cursor-pointer text-quiet">Pot and cups</summary>
      <div class="flex flex-wrap items-baseline gap-x-5 gap-y-1 pt-1.5">
        <label class="flex items-baseline gap-1">
          <span class="note">empty pot</span>
          <Figure pointer="/design/pot" label="Weight of the empty pot" unit="g" width="w-14" hide-label />
        </label>
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
    </details>
    <p v-for="message in ledger?.alike ?? []" :key="message" class="pt-1 text-sm">{{ message }}</p>
  </section>
</template>
