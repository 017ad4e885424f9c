<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '../api/client'
import { useRecipes, useRefresh } from '../api/queries'
import { useNewRecipe, usePutAway } from '../api/writes'
import { day } from '../support/format'
import BeginHere from '../begin/BeginHere.vue'
import PasteDialog from '../begin/PasteDialog.vue'
import CutFace from '../support/CutFace.vue'
import FileTold from '../support/FileTold.vue'
import Pager from '../support/Pager.vue'
import { useFile } from '../support/useFile'

const router = useRouter()
const refresh = useRefresh()
const query = ref('')
const first = ref(0)
watch(query, () => (first.value = 0))
const { data, isPending, error } = useRecipes(query, first)
const others = ref(false)
const pasting = ref(false)

const found = computed(() => data.value?.recipes ?? [])
const running = computed(() => data.value?.running ?? [])

const made = useNewRecipe()
const make = (copy_of: string | null) => made.run(copy_of ? { copy_of } : {})
/** What came in beside, since another is called so here; the recipe is then not opened before that was read. */
const beside = ref<{ id: string; names: readonly string[] } | null>(null)
const file = useFile(async ({ text, name }, sure) => {
  beside.value = null
  const made = await take(api.POST('/api/recipes/import', { body: { text, name, sure } }))
  await refresh('recipes', 'shelf')
  if (!made.beside.length) await router.push(`/recipes/${made.id}`)
  else beside.value = { id: made.id, names: made.beside }
  return made.beside.length ? 'It was read, with what it is made of:' : ''
})
const {
  gone: removed,
  putAway: remove,
  bringBack,
  trouble: kept,
} = usePutAway<{ id: string; name: string }>(
  ({ id }) => take(api.DELETE('/api/recipes/{recipe_id}', { params: { path: { recipe_id: id } } })),
  (id) => take(api.POST('/api/recipes/{recipe_id}/restore', { params: { path: { recipe_id: id } } })),
  ['recipes'],
)
const trouble = computed(() => made.trouble.value || kept.value)
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-end gap-4">
      <h1 class="text-3xl font-bold">Recipes</h1>
      <label class="ml-auto" :class="query || data?.total ? '' : 'invisible'">
        <span class="sr-only">Find</span>
        <input
          v-model="query"
          class="field w-84 max-sm:w-64"
          type="search"
          placeholder="Find by name, fat, scent, technique"
        />
      </label>
      <button type="button" class="key" @click="pasting = true">Paste recipes</button>
      <label class="key cursor-pointer focus-within:outline-3">
        Import recipes
        <input
          type="file"
          accept=".json,.csv,application/json,text/csv"
          class="sr-only"
          @change="file.pick"
        />
      </label>
      <button v-if="found.length" type="button" class="key" :aria-pressed="others" @click="others = !others">
        {{ others ? 'Cancel' : 'Starter recipes' }}
      </button>
      <button type="button" class="key key-main" @click="make(null)">New recipe</button>
    </div>
    <PasteDialog :open="pasting" @close="pasting = false" />
    <p v-if="trouble" class="message pt-2" role="alert">{{ trouble }}</p>
    <FileTold :file="file" />
    <p v-if="beside" role="status">
      {{ beside.names.join(', ') }} stands beside what is called so here.
      <RouterLink :to="`/recipes/${beside.id}`" class="font-semibold underline">Open the recipe</RouterLink>
    </p>
    <p v-if="removed" class="pt-2" role="status">
      {{ removed.name }} is removed; its pours stay.
      <button type="button" class="underline" @click="bringBack(removed.id)">Bring it back</button>
    </p>
    <p v-for="r in running" :key="r.id" class="mt-4 border-l-4 border-stir bg-chalk px-4 py-3">
      <b>{{ r.name }}</b> is being poured.
      <RouterLink :to="`/pours/${r.id}`" class="font-semibold underline">To the bench</RouterLink>
    </p>
    <p v-if="error" class="message pt-4" role="alert">{{ error.message }}</p>
    <BeginHere v-else-if="!isPending && !query && !data?.total" first />
    <p v-else-if="!isPending && !found.length" class="py-8">
      Nothing like “{{ query }}”.
      <button type="button" class="underline" @click="query = ''">Show all</button>
    </p>
    <BeginHere v-if="others && found.length" :first="false" />
    <ol v-if="found.length" class="mt-4 border-t-3 border-ink">
      <li
        v-for="r in found"
        :key="r.id"
        class="row grid grid-cols-[3rem_minmax(0,1fr)_auto] items-center gap-x-5 py-1.5 md:grid-cols-[3rem_minmax(0,1.3fr)_minmax(0,2fr)_minmax(0,1.5fr)_10rem_auto]"
      >
        <RouterLink v-if="r.face" :to="`/recipes/${r.id}/plan`" :aria-label="`Plan of ${r.name}`">
          <CutFace :code="r.face" :width="48" />
        </RouterLink>
        <span v-else />
        <span v-if="r.unreadable" class="truncate text-lg font-bold">{{ r.name }}</span>
        <RouterLink v-else :to="`/recipes/${r.id}`" class="truncate text-lg font-bold hover:underline">{{
          r.name
        }}</RouterLink>
        <span v-if="r.unreadable" class="message md:col-span-2">
          This draft cannot be read: {{ r.unreadable }}
          <a :href="`/api/recipes/${r.id}/raw`" class="underline" download>Save its text</a>
        </span>
        <span v-else class="truncate text-quiet max-md:hidden">{{ r.fats.join(', ') || 'no fats yet' }}</span>
        <span v-if="!r.unreadable" class="truncate max-md:hidden">
          {{ r.scent ?? 'unscented' }} <span class="text-quiet">· {{ r.technique.toLowerCase() }}</span>
        </span>
        <span class="note whitespace-nowrap max-md:hidden">
          {{ r.pours ? `${r.pours} pour${r.pours > 1 ? 's' : ''}` : 'not poured' }} · {{ day(r.changed) }}
        </span>
        <span class="flex gap-2 justify-self-end">
          <button
            v-if="!r.unreadable"
            type="button"
            class="key"
            :aria-label="`Copy ${r.name}`"
            @click="make(r.id)"
          >
            Copy
          </button>
          <button
            type="button"
            class="px-1 text-quiet underline hover:text-iron"
            :aria-label="`Remove ${r.name}`"
            @click="remove({ id: r.id, name: r.name })"
          >
            Remove
          </button>
        </span>
      </li>
    </ol>
    <Pager v-model="first" :total="data?.total ?? 0" />
  </div>
</template>
