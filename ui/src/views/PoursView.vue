<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '../api/client'
import type { Schemas } from '../api/client'
import { usePours, useRefresh, type Only } from '../api/queries'
import BatchStrip from '../ribbon/BatchStrip.vue'
import { day } from '../support/format'
import { recall, remember } from '../support/known'
import { onlyBench } from '../support/me'
import { due, whenWords } from '../support/when'
import CutFace from '../support/CutFace.vue'
import FileTold from '../support/FileTold.vue'
import Pager from '../support/Pager.vue'
import { useFile } from '../support/useFile'

type Line = Schemas['PourLine']
const router = useRouter()
const refresh = useRefresh()
const query = ref('')
const first = ref(0)
watch(query, () => (first.value = 0))
const only = ref<Only>('')
watch(only, () => (first.value = 0))
const { data, isPending, error } = usePours(query, first, only)
const ONLY: Record<Only, string> = {
  '': 'all',
  waits: 'waits for me',
  drawn: 'as planned',
  different: 'sellable',
  lost: 'lost',
}
const CAME: Record<string, string> = { drawn: 'as planned', different: 'sellable', lost: 'lost' }
const dense = ref(recall('round-stone-logbook') === 'dense')
watch(dense, (on) => remember('round-stone-logbook', on ? 'dense' : ''))
const now = new Date()
const hours = (p: Line) => (now.getTime() - Date.parse(p.ended_at ?? '')) / 3_600_000
const isDue = (p: Line) => !!p.next && !!p.ended_at && due(p.next, hours(p)) !== 'later'
/** One axis for all rows of the page, so that they can be compared by eye. */
const axis = computed(() => {
  const ends = pours.value.map((p) => Math.max(p.seen.end, p.foretold?.pour?.high ?? 0))
  const most = [...ends].sort((a, b) => a - b)[Math.floor(ends.length * 0.9)] ?? 30
  return Math.min(Math.max(10, Math.ceil(most / 5) * 5), 90)
})
const pours = computed(() => data.value?.pours ?? [])
const picked = ref<string[]>([])
const compare = () => router.push({ path: '/pours/differ', query: { pours: picked.value.join(',') } })

const file = useFile(async ({ text }, sure) => {
  const done = await take(api.POST('/api/pours/import', { body: { text, sure } }))
  await refresh('pours', 'recipes', 'fragrances', 'learning')
  const there = done.there ? ` ${done.there} were here already.` : ''
  return `${done.pours} pours with ${done.events} events were taken in and learned from.${there}`
})
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-center gap-3">
      <h1 class="text-3xl font-bold">Logbook</h1>
      <span v-if="data?.total" class="text-quiet"
        >{{ data.total }} batches<template v-if="data.waiting && !only"
          >, {{ data.waiting }} of them not done</template
        ></span
      >
      <RouterLink v-if="!onlyBench()" to="/score-card" class="underline"
        >How good were the forecasts?</RouterLink
      >
      <RouterLink v-if="!onlyBench() && data?.total" to="/year" class="underline"
        >Costs and records</RouterLink
      >
      <span v-if="!onlyBench()" class="ml-auto flex flex-wrap gap-2">
        <button v-if="picked.length > 1" type="button" class="key key-main" @click="compare">
          What differed?
        </button>
        <span v-else-if="pours.length > 1" class="note self-center">tick two to see what differed</span>
        <a v-if="pours.length" href="/api/pours.csv" class="key" download>Pours as CSV</a>
        <label class="key cursor-pointer focus-within:outline-3">
          Import CSV
          <input type="file" accept=".csv,text/csv" class="sr-only" @change="file.pick" />
        </label>
        <RouterLink to="/pours/past" class="key">From a notebook</RouterLink>
      </span>
    </div>
    <FileTold :file="file" />
    <p v-if="error" class="message pt-4" role="alert">{{ error.message }}</p>
    <p v-else-if="!isPending && query && !pours.length" class="py-8">
      Nothing like “{{ query }}”.
      <button type="button" class="underline" @click="query = ''">Show all</button>
    </p>
    <p v-else-if="!isPending && !pours.length && !only" class="py-8 text-lg">
      Nothing poured yet. Open a <RouterLink to="/" class="underline">recipe</RouterLink> and start its pour,
      or <RouterLink to="/pours/past" class="underline">write in one from your notebook</RouterLink>.
    </p>
    <div v-if="pours.length || only || query" class="flex flex-wrap items-center gap-x-5 gap-y-1 pt-3">
      <label v-if="query || (data?.total ?? 0) > 8">
        <span class="sr-only">Find</span>
        <input
          v-model="query"
          class="field w-64"
          type="search"
          placeholder="Find a recipe, fat, scent, technique"
        />
      </label>
      <span class="flex flex-wrap gap-x-5" role="group" aria-label="Which batches">
        <button
          v-for="(words, key) in ONLY"
          :key="key"
          type="button"
          class="min-h-8 border-b-3"
          :class="only === key ? 'border-ink font-bold' : 'border-transparent text-quiet'"
          :aria-pressed="only === key"
          @click="only = key"
        >
          {{ words }}
        </button>
      </span>
      <button type="button" class="note min-h-8 underline" :aria-pressed="dense" @click="dense = !dense">
        {{ dense ? 'with ribbons' : 'more on a page' }}
      </button>
      <p v-if="!dense" class="note ml-auto max-lg:hidden">
        above what was foretold, below what was seen; dots are taps, to {{ axis }} min
      </p>
    </div>
    <p v-if="only && !isPending && !pours.length" class="py-6 text-lg">None of these.</p>
    <ol v-if="pours.length" class="mt-2 border-t-3 border-ink">
      <li
        v-for="p in pours"
        :key="p.id"
        class="row grid grid-cols-[1.5rem_3.5rem_minmax(0,1fr)] items-center gap-x-4 gap-y-1 lg:grid-cols-[1.5rem_4.5rem_14rem_minmax(0,1fr)_8.5rem_13rem]"
        :class="dense ? 'py-0.5' : 'py-1.5'"
      >
        <label class="-m-3 grid place-items-center p-3">
          <input
            v-model="picked"
            type="checkbox"
            class="size-5 accent-ink disabled:opacity-30"
            :value="p.id"
            :disabled="p.ended === null || p.left_out || (picked.length >= 6 && !picked.includes(p.id))"
            :aria-label="`Compare ${p.recipe} of ${day(p.started)}`"
          />
        </label>
        <img
          v-if="p.photo"
          :src="`/api/photos/${p.photo}`"
          alt=""
          class="rounded-xs object-cover"
          :class="dense ? 'h-8 w-11' : 'h-14 w-18'"
          loading="lazy"
        />
        <CutFace v-else :code="p.face" :width="dense ? 36 : 64" />
        <span class="min-w-0">
          <RouterLink
            :to="`/pours/${p.id}`"
            class="block truncate text-lg leading-tight font-bold hover:underline"
          >
            {{ p.recipe }}
          </RouterLink>
          <span class="note block truncate"
            >{{ p.technique }}<template v-if="!dense">, {{ p.scent ?? 'unscented' }}</template></span
          >
          <span v-if="!dense" class="note block"
            ><template v-if="p.batch">{{ p.batch }}, </template>{{ day(p.started) }}, version
            {{ p.version }}</span
          >
          <span v-if="p.together?.length" class="note block truncate"
            >in one mould with {{ p.together.map((t) => t.recipe).join(', ') }}</span
          >
        </span>
        <BatchStrip
          v-if="!dense"
          class="max-lg:hidden"
          :foretold="p.foretold ?? null"
          :seen="p.seen"
          :minutes="axis"
        />
        <span v-else class="note truncate max-lg:hidden"
          >{{ p.scent ?? 'unscented' }}, {{ day(p.started) }}</span
        >
        <span class="max-lg:col-start-3">
          <b v-if="p.ended === null" class="text-stir">being poured</b>
          <span
            v-else-if="p.came"
            class="flex items-center gap-2"
            :class="p.came === 'lost' ? 'font-bold text-iron' : 'font-semibold'"
          >
            <i class="outcome" :class="`outcome-${p.came}`" aria-hidden="true" />{{ CAME[p.came] }}
          </span>
          <span v-else class="note">not judged yet</span>
          <span v-if="p.harm" class="block text-sm font-semibold text-iron" :title="p.harm"
            >marked for good</span
          >
          <span v-if="p.left_out" class="note block">not learned from</span>
        </span>
        <span class="min-w-0 max-lg:col-start-3">
          <RouterLink
            v-if="p.next && p.ended_at"
            :to="`/pours/${p.id}/rest`"
            class="block leading-tight hover:underline"
          >
            <span :class="isDue(p) ? 'border-b-3 border-pot font-bold' : ''">{{ p.next.message }}</span>
            <span class="note block truncate">{{ whenWords(p.next, new Date(p.ended_at), now) }}</span>
          </RouterLink>
          <RouterLink v-else-if="p.ended !== null" :to="`/pours/${p.id}/rest`" class="note hover:underline"
            >nothing waits</RouterLink
          >
        </span>
      </li>
    </ol>
    <Pager v-model="first" :total="data?.total ?? 0" />
  </div>
</template>
