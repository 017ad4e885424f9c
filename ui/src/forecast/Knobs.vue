<script setup lang="ts">
/** What if? Turn a knob and a ghost of the ribbon moves beside the original; keep it, or let it go. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, toRaw, watch } from 'vue'
import { api, take, type Forecast, type Recipe } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from '../ledger/useDraft'
import Choose from '../fields/Choose.vue'
import { minutes, percent } from '../support/format'
import { warmth } from '../support/quantity'

const emit = defineEmits<{ ghost: [forecast: Forecast | null] }>()
const draft = injectDraft()
const { data: shelf } = useShelf()
const turned = ref<Recipe | null>(null)
const shown = computed(() => turned.value ?? (draft.recipe.value as Recipe))

// Whatever is edited in the recipe itself lets the ghost go.
watch(draft.recipe, () => (turned.value = null))

function turn(change: (d: Recipe) => void) {
  const next = structuredClone(toRaw(turned.value) ?? toRaw(draft.recipe.value)) as Recipe
  change(next)
  turned.value = next
}
const { data, error } = useQuery({
  queryKey: ['knobs', draft.id, turned],
  queryFn: ({ signal }) =>
    take(api.POST('/api/forecast', { body: { recipe: turned.value as Recipe, seed: draft.id }, signal })),
  enabled: computed(() => turned.value !== null),
  placeholderData: (before) => before,
  gcTime: 0,
  retry: false,
})
const answer = computed(() => (turned.value ? data.value : undefined))
watch(
  () => answer.value?.forecast ?? null,
  (forecast) => emit('ghost', forecast),
)

const sugar = computed(() => shown.value.additives.findIndex((a) => a.additive === 'sugar'))
const sugarDose = computed(() => {
  const dose = shown.value.additives[sugar.value]
  return dose?.basis === 'g/kg' ? dose.amount : dose ? null : 0
})
const lye = computed(() =>
  shown.value.water.by === 'concentration'
    ? shown.value.water.share
    : (draft.sheet.value?.lye_concentration ?? 0.33),
)
const SCENT_AT = {
  portions: 'after the split',
  pour: 'as each is poured',
  emulsion: 'at emulsion',
  fats: 'in the fats',
}
const SCENT_BY = { hand: 'whisked by hand', stick: 'stick-blended' }
const swap = ref('')
const fats = computed(() =>
  shown.value.fats.map((f, i) => ({
    i,
    name: shelf.value?.fats.find((x) => x.id === f.fat)?.name ?? f.fat,
    share: f.share,
  })),
)
const others = computed(() =>
  (shelf.value?.fats ?? []).filter(
    (f) =>
      f.kind === 'fat' &&
      !shelf.value?.hidden.includes(f.id) &&
      !shown.value.fats.some((x) => x.fat === f.id),
  ),
)
function exchange(id: string) {
  const row = Number(swap.value)
  if (id && swap.value !== '')
    turn((d) => void (d.fats[row] = { fat: id, share: d.fats[row]?.share ?? 0, sv: null }))
  swap.value = ''
}
function sweeten(amount: number) {
  turn((d) => {
    const row = d.additives.findIndex((a) => a.additive === 'sugar')
    const dose = d.additives[row]
    if (dose && amount > 0) dose.amount = amount
    else if (dose) d.additives.splice(row, 1)
    else
      d.additives.push({
        additive: 'sugar',
        amount,
        basis: 'g/kg',
        moment: null,
        into: [],
        carrier: null,
        called: '',
      })
  })
}
const moved = computed(() => {
  const now = draft.foretold.value?.forecast?.lanes ?? []
  const then = answer.value?.forecast?.lanes ?? []
  return now.flatMap((lane, i) => {
    const other = then[i]
    return other
      ? [{ portion: lane.portion, from: lane.stages[1]?.time.q50 ?? 0, to: other.stages[1]?.time.q50 ?? 0 }]
      : []
  })
})
function keep() {
  const next = turned.value
  if (next) draft.edit('knobs', (d) => void Object.assign(d, structuredClone(toRaw(next))))
}
const value = (event: Event) => Number((event.target as HTMLInputElement).value)
</script>

<template>
  <section aria-label="Knobs" class="border-y border-rule py-2">
    <div class="flex flex-wrap items-end gap-x-6 gap-y-1.5">
      <h2 class="self-center text-lg font-bold">What if</h2>
      <label class="knob">
        <span
          >pour at <b class="fig">{{ warmth(shown.pour_celsius, 1) }}</b></span
        >
        <input
          type="range"
          min="18"
          max="55"
          step="1"
          :value="shown.pour_celsius"
          @input="turn((d) => void (d.pour_celsius = value($event)))"
        />
      </label>
      <label class="knob">
        <span
          >lye <b class="fig">{{ percent(lye) }}</b> %</span
        >
        <input
          type="range"
          min="0.25"
          max="0.4"
          step="0.005"
          :value="lye"
          @input="turn((d) => void (d.water = { by: 'concentration', share: value($event) }))"
        />
      </label>
      <label v-for="(scent, i) in shown.scents" :key="scent.fragrance" class="knob">
        <span class="max-w-44 truncate"
          >{{ shelf?.fragrances.find((f) => f.id === scent.fragrance)?.name }}
          <b class="fig">{{ percent(scent.load, 2) }}</b> %</span
        >
        <input
          type="range"
          min="0"
          max="0.06"
          step="0.001"
          :value="scent.load"
          @input="
            turn((d) => {
              const s = d.scents[i]
              if (s) s.load = value($event)
            })
          "
        />
      </label>
      <label v-if="sugarDose !== null" class="knob">
        <span
          >sugar <b class="fig">{{ sugarDose }}</b> g/kg</span
        >
        <input type="range" min="0" max="40" step="1" :value="sugarDose" @input="sweeten(value($event))" />
      </label>
      <span v-if="shown.scents.length" class="flex gap-3">
        <Choose
          :model-value="shown.design.scent_at"
          :options="SCENT_AT"
          label="What if the scent went in"
          @update:model-value="(at) => turn((d) => void (d.design.scent_at = at))"
        />
        <Choose
          :model-value="shown.design.scent_by"
          :options="SCENT_BY"
          label="What if the scent was stirred in"
          @update:model-value="(by) => turn((d) => void (d.design.scent_by = by))"
        />
      </span>
      <span class="flex gap-2">
        <select v-model="swap" class="field text-sm" aria-label="What if one fat was another: which">
          <option value="">swap a fat …</option>
          <option v-for="f in fats" :key="f.i" :value="String(f.i)">
            {{ f.name }} {{ percent(f.share) }} %
          </option>
        </select>
        <select
          v-if="swap !== ''"
          class="field max-w-40 text-sm"
          aria-label="What if one fat was another: for which"
          @change="exchange(($event.target as HTMLSelectElement).value)"
        >
          <option value="">for …</option>
          <option v-for="f in others" :key="f.id" :value="f.id">{{ f.name }}</option>
        </select>
      </span>
    </div>
    <div v-if="turned" class="flex flex-wrap items-center gap-x-5 gap-y-1 pt-1.5" role="status">
      <span v-if="answer && !answer.forecast" class="message">{{ answer.faults[0]?.message }}</span>
      <span v-else-if="error" class="message">{{ error.message }}</span>
      <span v-for="m in answer?.forecast ? moved : []" :key="m.portion" class="whitespace-nowrap">
        {{ m.portion }}: medium <span class="fig">{{ minutes(m.from) }}</span> →
        <b class="fig">{{ minutes(m.to) }}</b> min
      </span>
      <span class="ml-auto flex gap-2">
        <button type="button" class="key" @click="turned = null">Discard</button>
        <button type="button" class="key key-main" :disabled="!answer?.forecast" @click="keep">
          Use this
        </button>
      </span>
    </div>
  </section>
</template>
