<script setup lang="ts">
/** What other workshops saw of fragrances, and what one's own pours saw, told to them as a file. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { useRefresh, useShelf } from '../api/queries'
import { useWrite } from '../api/writes'
import { saveAs } from '../support/save'
import ShelfTabs from '../shelf/ShelfTabs.vue'
import FileTold from '../support/FileTold.vue'
import { day } from '../support/format'
import { useFile } from '../support/useFile'

const refresh = useRefresh()
const find = ref('')
const { data: shelf } = useShelf()
const { data, error, isPending } = useQuery({
  queryKey: ['evidence', find],
  queryFn: () => take(api.GET('/api/evidence', { params: { query: { find: find.value } } })),
  placeholderData: keepPreviousData,
  refetchInterval: (query) => (query.state.data?.reckoning != null ? 1500 : false),
})
const fragrances = computed(() => shelf.value?.fragrances.filter((f) => !f.parts?.length || f.bottled) ?? [])
const nameOf = (id: string | null) => fragrances.value.find((f) => f.id === id)?.name ?? ''

const file = useFile(async ({ text }) => {
  const now = await take(api.POST('/api/evidence', { body: { text } }))
  await refresh(...changes)
  const asked = now.heard.filter((h) => h.like && !h.fragrance).length
  return asked ? 'Imported. Say below which of these fragrances are yours.' : 'Imported.'
})
const changes = ['evidence', 'fragrances', 'shelf', 'forecast']
const matched = useWrite(
  (h: Schemas['HeardOf'], fragrance: string | null) =>
    take(api.PUT('/api/evidence/match', { body: { name: h.name, code: h.code, fragrance } })),
  { touches: changes },
)
const match = matched.run
const left = useWrite(
  (id: string) => take(api.DELETE('/api/evidence/{source_id}', { params: { path: { source_id: id } } })),
  { touches: changes },
)
const takeOut = left.run

/** What is told of each: nothing until it is ticked. */
interface Row {
  fragrance: string
  tell: boolean
  name: string
  code: string
  claim: boolean
  told: Schemas['ToldOf']
  words: string
}
const rows = ref<Row[]>([])
watch(
  () => data.value?.sharable,
  (now) => {
    const before = new Map(rows.value.map((r) => [r.fragrance, r]))
    rows.value = (now ?? []).map(
      (s) =>
        before.get(s.fragrance) ??
        reactive({ ...s, tell: false, name: s.told.name, code: s.told.code ?? '', claim: true }),
    )
  },
  { immediate: true },
)
const telling = computed(() => rows.value.filter((r) => r.tell))
const shown = ref<Schemas['TellingText'] | null>(null)
watch(rows, () => (shown.value = null), { deep: true })
/** What would leave, word for word; with `saved` it is kept as a file. */
const told = useWrite(
  (of: Row[], saved: boolean) =>
    take(
      api.POST('/api/evidence/told', {
        body: {
          fragrances: of.map(({ fragrance, name, code, claim }) => ({ fragrance, name, code, claim })),
          saved,
        },
      }),
    ),
  {
    done: (made, _, saved) => {
      shown.value = made
      if (saved) saveAs(new Blob([made.text], { type: 'application/json' }), made.name)
    },
  },
)
const asked = ref<Row[]>([])
const show = (saved = false) => told.run((asked.value = telling.value), saved)
const rowOf = (pointer: string) => asked.value[Number(pointer.split('/')[2])]
/** What is wrong with what is told of each, by its fragrance. */
const faults = computed(() =>
  Object.fromEntries(told.faults.value.map((f) => [rowOf(f.pointer)?.fragrance ?? '', f.message])),
)
const wrong = computed(() => matched.trouble.value || left.trouble.value || faults.value[''])
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <ShelfTabs />
    <p v-if="error" class="message" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending || !data" class="py-6" role="status">Loading …</p>
    <template v-else>
      <section aria-labelledby="heard">
        <div class="flex flex-wrap items-end gap-x-6 gap-y-2">
          <h2 id="heard" class="text-2xl font-bold">What other workshops saw</h2>
          <label v-if="data.all_heard > 12 || find" class="flex items-baseline gap-2">
            <span class="note">find</span>
            <input v-model="find" class="field w-56" type="search" maxlength="200" />
          </label>
          <label class="key key-main ml-auto cursor-pointer max-sm:min-h-11">
            Import a file
            <input type="file" accept=".json,application/json" class="sr-only" @change="file.pick" />
          </label>
        </div>
        <FileTold :file="file" />
        <p v-if="wrong" class="message" role="alert">{{ wrong }}</p>
        <p v-if="!data.sources.length" class="max-w-3xl py-5 text-lg">
          Nothing was imported yet. Another workshop can give you a file of what its pours saw. You say which
          of its fragrances are yours; from then on they count in the forecast beside the supplier's claim,
          and your own pours count more.
        </p>
        <ol v-else class="mt-3 border-t-3 border-ink" aria-label="Fragrances others told of">
          <li
            v-for="h in data.heard"
            :key="`${h.name} ${h.code}`"
            class="row grid grid-cols-[minmax(0,1fr)] items-center gap-x-6 gap-y-1 py-2 md:grid-cols-[14rem_minmax(0,1fr)_17rem]"
          >
            <span class="min-w-0 truncate"
              ><b>{{ h.name }}</b> <span class="note">{{ h.code }}</span></span
            >
            <span>{{ h.words }}</span>
            <span class="flex flex-wrap items-center gap-2">
              <button
                v-if="!h.fragrance && h.like"
                type="button"
                class="key max-sm:min-h-11"
                @click="match(h, h.like)"
              >
                It is my {{ nameOf(h.like) }}
              </button>
              <select
                class="field w-full max-sm:min-h-11"
                :value="h.fragrance ?? ''"
                :aria-label="`${h.name} is, on my shelf`"
                @change="match(h, ($event.target as HTMLSelectElement).value || null)"
              >
                <option value="">not mine</option>
                <option v-for="f in fragrances" :key="f.id" :value="f.id">{{ f.name }}</option>
              </select>
            </span>
          </li>
        </ol>
        <p v-if="data.all_heard > data.heard.length" class="note pt-1">
          {{ data.heard.length }} of {{ data.all_heard }} are shown: find the others by name.
        </p>
        <ul
          v-if="data.sources.length"
          class="flex flex-wrap gap-x-6 gap-y-1 pt-3"
          aria-label="Files you imported"
        >
          <li v-for="s in data.sources" :key="s.id" class="flex items-baseline gap-2">
            <span class="note"
              >{{ s.workshops > 1 ? `${s.workshops} workshops` : 'a workshop' }},
              {{ s.fragrances }} fragrance{{ s.fragrances > 1 ? 's' : '' }}, imported
              {{ day(s.read.slice(0, 10)) }}</span
            >
            <button type="button" class="text-sm underline max-sm:min-h-11" @click="takeOut(s.id)">
              Remove
            </button>
          </li>
        </ul>
      </section>

      <section class="pt-8" aria-labelledby="tell">
        <h2 id="tell" class="text-2xl font-bold">Tell what your pours saw</h2>
        <p class="max-w-3xl pt-1">
          A file holds only what is ticked here: how fast each fragrance was, how often it riced, seized,
          separated or changed colour, and whether it held. No recipe, no note, no day, and not who you are.
        </p>
        <p v-if="data.failed" class="message" role="alert">{{ data.failed }}</p>
        <p v-else-if="!data.sharable" class="py-4" role="status">
          Reading your pours …
          <template v-if="data.reckoning">{{ Math.round(100 * data.reckoning) }} %</template>
        </p>
        <p v-else-if="!rows.length" class="py-4 text-lg">
          No finished pour has shown anything of a fragrance yet.
        </p>
        <template v-else>
          <ol class="mt-3 border-t-3 border-ink" aria-label="What could be told">
            <li
              v-for="r in rows"
              :key="r.fragrance"
              class="row grid grid-cols-[minmax(0,1fr)] items-center gap-x-6 gap-y-1 py-1.5 md:grid-cols-[minmax(0,1fr)_14rem_9rem_auto]"
            >
              <label class="flex min-h-11 items-center gap-2">
                <input v-model="r.tell" type="checkbox" class="size-5 shrink-0 accent-ink" />
                <span
                  ><b class="pr-2">{{ nameOf(r.fragrance) || r.told.name }}</b
                  ><span class="text-quiet">{{ r.words }}</span></span
                >
              </label>
              <template v-if="r.tell">
                <label class="flex flex-col">
                  <span class="note">told as</span>
                  <input v-model="r.name" class="field" maxlength="80" />
                </label>
                <label class="flex flex-col">
                  <span class="note">supplier's code</span>
                  <input v-model="r.code" class="field" maxlength="80" />
                </label>
                <label class="flex min-h-11 items-center gap-1.5">
                  <input v-model="r.claim" type="checkbox" class="size-4 accent-ink" /> and the claim
                </label>
                <span v-if="faults[r.fragrance]" class="message md:col-span-4" role="alert">{{
                  faults[r.fragrance]
                }}</span>
              </template>
            </li>
          </ol>
          <div class="flex flex-wrap items-center gap-4 pt-3">
            <button
              type="button"
              class="key max-sm:min-h-11"
              :class="shown ? '' : 'key-main'"
              :disabled="!telling.length"
              @click="show()"
            >
              {{ telling.length ? `Show the file of ${telling.length}` : 'Tick what you want to tell' }}
            </button>
            <button v-if="shown" type="button" class="key key-main max-sm:min-h-11" @click="show(true)">
              Save it as a file
            </button>
            <span v-if="shown" class="note">This is all of it, word for word.</span>
          </div>
          <pre
            v-if="shown"
            class="fig mt-3 max-h-96 overflow-auto rounded-lg border border-rule bg-chalk p-3 text-sm"
            tabindex="0"
            aria-label="The file, word for word"
            >{{ shown.text }}</pre>
        </template>
      </section>
    </template>
  </div>
</template>
