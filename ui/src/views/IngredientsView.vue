<script setup lang="ts">
/** Every fat, liquid and additive with the figures the lye is reckoned from, and the maker's own. */
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, take, type Schemas } from '../api/client'
import { useOwn, useRefresh, useShelf } from '../api/queries'
import { usePutAway } from '../api/writes'
import IngredientForm from '../shelf/IngredientForm.vue'
import MadeForm from '../shelf/MadeForm.vue'
import { useMoments } from '../ledger/moments'
import ShelfTabs from '../shelf/ShelfTabs.vue'
import { warmth } from '../support/quantity'
import { fixed, written } from '../support/decimal'
import { number } from '../support/format'

type Own = Schemas['CustomIngredient']
const moments = useMoments()
const { data: shelf, error } = useShelf()
const { data: own } = useOwn()
const refresh = useRefresh()
const route = useRoute()
const find = ref(String(route.query.find ?? ''))
watch(
  () => route.query.find,
  (words) => words !== undefined && (find.value = String(words)),
)
const editing = ref<Own | null>(null)
const adding = ref<'bought' | 'made' | null>(null)
const open = computed(() => {
  const x = editing.value?.fat ?? editing.value?.liquid ?? editing.value?.additive
  return x ? { id: x.id, form: x.made ? MadeForm : IngredientForm } : null
})

const mine = computed(
  () => new Map((own.value?.custom ?? []).map((o) => [(o.fat ?? o.liquid ?? o.additive)?.id ?? '', o])),
)
const rows = computed(() => {
  const on = shelf.value
  if (!on) return []
  const words = find.value.toLowerCase().split(/\s+/).filter(Boolean)
  const all = [
    ...on.fats.map((f) => ({
      id: f.id,
      name: f.name,
      kind: f.kind === 'fat' ? 'fat' : f.kind === 'wax' ? 'wax' : 'fatty acid',
      figures: `SV ${f.sv_low.toFixed(0)} – ${fixed(f.sv, 1)} – ${f.sv_high.toFixed(0)} · iodine ${number(f.iodine_low, 0)}–${number(f.iodine_high, 0)}${f.melts === null ? '' : ` · clear at ${warmth(f.melts)}`}`,
      source: f.source,
    })),
    ...on.liquids
      .filter((l) => l.kind !== 'water')
      .map((l) => ({
        id: l.id,
        name: l.name,
        kind: 'liquid',
        figures: `in 100 g: ${(100 * l.water).toFixed(0)} g water, ${fixed(100 * l.fat, 1)} fat, ${fixed(100 * l.sugars, 1)} sugars${l.acid ? `, ${fixed(100 * l.acid, 1)} ${l.acid_of} acid` : ''}`,
        source: l.source,
      })),
    ...on.additives.map((a) => ({
      id: a.id,
      name: a.name,
      kind: a.kind,
      figures: `${written(a.usual)} g/kg usual, ${written(a.most)} most · ${written(a.spoon)} g a teaspoon${a.naoh ? ` · takes ${fixed(a.naoh, 3)} g sodium hydroxide a gram` : ''} · ${moments.words.value[a.moment] ?? ''}`,
      source: a.source,
    })),
  ]
  return all
    .filter((r) => !on.hidden.includes(r.id))
    .filter((r) => words.every((w) => `${r.name} ${r.kind}`.toLowerCase().includes(w)))
    .map((r) => ({ ...r, own: mine.value.get(r.id) ?? null }))
    .sort((a, b) => Number(!!b.own) - Number(!!a.own) || a.name.localeCompare(b.name))
})

async function done() {
  editing.value = null
  adding.value = null
  await refresh('own', 'shelf')
}
function edit(o: Own) {
  adding.value = null
  editing.value = o
  window.scrollTo({ top: 0 })
}
const {
  gone: hidden,
  putAway: hide,
  bringBack,
  trouble,
} = usePutAway<{ id: string; name: string }>(
  ({ id }) => take(api.DELETE('/api/custom/{ingredient_id}', { params: { path: { ingredient_id: id } } })),
  (id) => take(api.POST('/api/custom/{ingredient_id}/restore', { params: { path: { ingredient_id: id } } })),
  ['own', 'shelf'],
)
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <ShelfTabs />
    <div class="flex flex-wrap items-center gap-4">
      <input
        v-model="find"
        class="field w-72"
        aria-label="Find an ingredient"
        placeholder="Find a fat, milk, acid, clay …"
      />
      <span class="note">{{ rows.length }} shown</span>
      <button
        type="button"
        class="key ml-auto"
        @click="((adding = adding === 'made' ? null : 'made'), (editing = null))"
      >
        {{ adding === 'made' ? 'Cancel' : 'Made here' }}
      </button>
      <button
        type="button"
        class="key key-main"
        @click="((adding = adding === 'bought' ? null : 'bought'), (editing = null))"
      >
        {{ adding === 'bought' ? 'Cancel' : 'Add your own' }}
      </button>
    </div>
    <component :is="open.form" v-if="open" :key="open.id" class="mt-3" :own="editing" @done="done" />
    <IngredientForm v-else-if="adding === 'bought'" class="mt-3" :own="null" @done="done" />
    <MadeForm v-else-if="adding === 'made'" class="mt-3" :own="null" @done="done" />
    <p v-if="hidden" class="pt-2" role="status">
      {{ hidden.name }} is hidden; recipes that use it go on.
      <button type="button" class="underline" @click="bringBack(hidden.id)">Bring it back</button>
    </p>
    <p v-if="error || trouble" class="message pt-4" role="alert">{{ trouble || error?.message }}</p>
    <ol class="mt-3 border-t-3 border-ink">
      <li v-if="shelf && !rows.length" class="py-4">
        Nothing like “{{ find }}” on the shelf. Add it as your own.
      </li>
      <li
        v-for="r in rows"
        :key="r.id"
        class="row grid items-center gap-x-5 py-0.5 md:grid-cols-[14rem_5.5rem_minmax(0,1.5fr)_minmax(0,1fr)_5.5rem]"
      >
        <b class="truncate" :title="r.name">{{ r.name }}</b>
        <span class="note">{{ r.kind }}</span>
        <span class="text-sm tabular-nums">{{ r.figures }}</span>
        <span class="note truncate" :title="r.source">
          {{ r.source }}
          <span v-for="c in r.own?.cautions ?? []" :key="c.message" class="message block whitespace-normal">{{
            c.message
          }}</span>
        </span>
        <span v-if="r.own" class="text-right">
          <button type="button" class="px-1 text-sm underline" @click="edit(r.own)">edit</button>
          <button
            type="button"
            class="take-out"
            :aria-label="`Hide ${r.name}`"
            @click="hide({ id: r.id, name: r.name })"
          >
            ×
          </button>
        </span>
      </li>
    </ol>
  </div>
</template>
