<script setup lang="ts">
/** What a portion's row holds when it is touched: its cups, scent in grams, colours, own lye, and where it stands. */
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useShelf } from '../api/queries'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import NumberField from '../fields/NumberField.vue'
import PickList from '../fields/PickList.vue'
import TextField from '../fields/TextField.vue'
import { injectDraft } from '../ledger/useDraft'
import { percent } from '../support/format'
import { length } from '../support/quantity'
import { usePortions } from './usePortions'

const props = defineProps<{ i: number; row: Schemas['LedgerRow'] | null }>()
const emit = defineEmits<{ close: [] }>()
const draft = injectDraft()
const { data: shelf } = useShelf()
const { portions, scented, portion, here, amount } = usePortions(draft)
const pigments = computed(() =>
  (shelf.value?.additives ?? []).filter((a) => shelf.value?.colouring.includes(a.kind)),
)
const colour = (item: string) =>
  draft.adjust({ kind: 'add_thing', what: 'additive', item, into: portions.value[props.i]?.name ?? null })
const uncolour = (row: number) =>
  draft.adjust({ kind: 'take_dose', row, portion: portions.value[props.i]?.name ?? '' })
const of = computed(() => ({
  '': 'from the pot',
  ...Object.fromEntries(
    portions.value.filter((_, j) => j !== props.i).map((p) => [p.name, `from ${p.name}`]),
  ),
}))
const COLOURED = { hand: 'coloured by hand', stick: 'coloured with the stick', not: 'not coloured' }
const move = (by: number) =>
  draft.adjust({ kind: 'move_portion', row: props.i, to: Math.max(props.i + by, 0) })
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1.5 py-1.5 text-sm">
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
    <label class="flex items-center gap-1.5">
      <input
        type="checkbox"
        class="size-4 accent-ink"
        :checked="portions[i]?.white"
        @change="
          portion(`white ${i}`, i, (p) => void (p.white = ($event.target as HTMLInputElement).checked))
        "
      />
      stays white
    </label>
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
      :options="of"
      label="Where it is taken from"
      @update:model-value="(name) => portion(`of ${i}`, i, (p) => void (p.of = name))"
    />
    <label class="flex items-baseline gap-1.5">
      <span class="note">separate batch of lye</span>
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
    <PickList
      class="w-52"
      :label="`Add a colour to ${portions[i]?.name}`"
      :options="pigments"
      @pick="colour"
    />
    <span v-for="c in row?.colours ?? []" :key="`figure ${c.row}`" class="flex items-baseline gap-1">
      {{ c.name }}
      <Figure :pointer="`/additives/${c.row}/amount`" :label="`${c.name}, dose`" hide-label width="w-12" />
      <span class="note"
        >{{ draft.recipe.value?.additives[c.row]?.basis }} · {{ c.a_cup }} a cup<template
          v-if="c.others.length"
          >, as in {{ c.others.join(', ') }}</template
        ></span
      >
      <button type="button" class="take-out" :aria-label="`Take ${c.name} out`" @click="uncolour(c.row)">
        ×
      </button>
    </span>
    <span v-if="row?.uneven" class="note">superfat here {{ percent(row.superfat) }} %</span>
    <span v-if="row?.height" class="note">
      {{ length(row.height) }} of the mould; 1 % more of it is
      {{ length(10 * (row.a_percent ?? 0), 'mm') }}
    </span>
    <span class="ml-auto flex gap-2">
      <button type="button" class="key" aria-label="Weigh it off earlier" @click="move(-1)">↑</button>
      <button type="button" class="key" aria-label="Weigh it off later" @click="move(1)">↓</button>
      <button
        type="button"
        class="key"
        :disabled="portions.length < 2"
        @click="(emit('close'), draft.adjust({ kind: 'take_portion', row: i }))"
      >
        Take {{ portions[i]?.name || 'it' }} out
      </button>
    </span>
  </div>
</template>
