<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, Refused, take, type Fault } from '../api/client'
import { usePours, useRefresh } from '../api/queries'
import { day, minutes } from '../support/format'
import CutFace from '../support/CutFace.vue'
import Pager from '../support/Pager.vue'

const router = useRouter()
const refresh = useRefresh()
const query = ref('')
const first = ref(0)
watch(query, () => (first.value = 0))
const { data, isPending, error } = usePours(query, first)
const pours = computed(() => data.value?.pours ?? [])
const picked = ref<string[]>([])
const told = ref('')
const faults = ref<Fault[]>([])
const compare = () => router.push({ path: '/pours/differ', query: { pours: picked.value.join(',') } })

async function takeIn(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  await taken(await file.text(), false)
  input.value = ''
}
/** A file whose looks the forecast hardly gives is asked about once; then it is taken as it stands. */
const asked = ref('')
async function taken(text: string, sure: boolean) {
  faults.value = []
  asked.value = ''
  try {
    const done = await take(api.POST('/api/pours/import', { body: { text, sure } }))
    told.value = `${done.pours} pours with ${done.events} events were taken in and learned from.${done.there ? ` ${done.there} were here already.` : ''}`
    await refresh('pours', 'recipes', 'fragrances', 'learning')
  } catch (problem) {
    if (!(problem instanceof Refused)) throw problem
    faults.value = problem.problem.errors
    told.value = problem.problem.sure ? 'Is it so? Nothing was taken in yet:' : 'Nothing was taken in:'
    asked.value = problem.problem.sure ? text : ''
  }
}
const place = (pointer: string) => {
  const [, line, ...rest] = pointer.split('/')
  return `line ${line}${rest.length ? `, ${rest.join(' ')}` : ''}`
}
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-center gap-3">
      <h1 class="text-3xl font-bold">Pours</h1>
      <RouterLink to="/score-card" class="underline">How good were the forecasts?</RouterLink>
      <span class="ml-auto flex flex-wrap gap-2">
        <label v-if="query || (data?.total ?? 0) > 8">
          <span class="sr-only">Find</span>
          <input v-model="query" class="field w-64" type="search" placeholder="Find by recipe, fat, scent" />
        </label>
        <button v-if="picked.length > 1" type="button" class="key key-main" @click="compare">
          What differed?
        </button>
        <span v-else-if="pours.length > 1" class="note self-center">tick two to see what differed</span>
        <a v-if="pours.length" href="/api/pours.csv" class="key" download>Pours as CSV</a>
        <label class="key cursor-pointer focus-within:outline-3">
          Read a CSV
          <input type="file" accept=".csv,text/csv" class="sr-only" @change="takeIn" />
        </label>
        <RouterLink to="/pours/past" class="key">From a notebook</RouterLink>
      </span>
    </div>
    <div v-if="told" class="pt-2" role="status">
      {{ told }}
      <ul v-if="faults.length">
        <li v-for="f in faults" :key="f.pointer + f.says" class="says">
          {{ place(f.pointer) }}: {{ f.says }}
        </li>
      </ul>
      <button v-if="asked" type="button" class="key mt-2" @click="taken(asked, true)">
        It is so: take it as it stands
      </button>
    </div>
    <p v-if="error" class="says pt-4" role="alert">{{ error.message }}</p>
    <p v-else-if="!isPending && query && !pours.length" class="py-8">
      Nothing like “{{ query }}”.
      <button type="button" class="underline" @click="query = ''">Show all</button>
    </p>
    <p v-else-if="!isPending && !pours.length" class="py-8 text-lg">
      Nothing poured yet. Open a <RouterLink to="/" class="underline">recipe</RouterLink> and start its pour,
      or <RouterLink to="/pours/past" class="underline">write in one from your notebook</RouterLink>.
    </p>
    <ol class="mt-4 border-t-3 border-ink">
      <li
        v-for="p in pours"
        :key="p.id"
        class="row grid grid-cols-[1.5rem_3rem_minmax(0,1fr)_auto] items-center gap-x-4 py-1 md:grid-cols-[1.5rem_3rem_8rem_minmax(0,1.2fr)_minmax(0,1fr)_minmax(0,1fr)_11rem]"
      >
        <input
          v-model="picked"
          type="checkbox"
          class="size-5 accent-ink disabled:opacity-30"
          :value="p.id"
          :disabled="p.ended === null || p.left_out || (picked.length >= 6 && !picked.includes(p.id))"
          :aria-label="`Compare ${p.recipe} of ${day(p.started)}`"
        />
        <CutFace :code="p.face" :width="48" />
        <span class="fig text-sm text-quiet max-md:hidden">{{ day(p.started) }}</span>
        <RouterLink :to="`/pours/${p.id}`" class="truncate font-bold hover:underline">
          {{ p.recipe }} <span class="font-normal text-quiet">version {{ p.version }}</span>
        </RouterLink>
        <span class="truncate max-md:hidden">{{ p.scent ?? 'unscented' }}</span>
        <span class="truncate text-quiet max-md:hidden">{{ p.technique }}</span>
        <span class="note">
          <template v-if="p.ended !== null"
            >{{ minutes(p.ended) }} min, {{ p.events }} taps{{
              p.left_out ? ', not learned from' : ''
            }}</template
          >
          <b v-else class="text-stir">being poured</b>
        </span>
      </li>
    </ol>
    <Pager v-model="first" :total="data?.total ?? 0" />
  </div>
</template>
