<script setup lang="ts">
/** What the workshop sets once: its scales, how its maker taps; and that nothing of it can be lost: copies, and all of it in one file. */
import { readNumber } from '../support/quantity'
import { askUnits } from '../support/units'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import ScalesForm from '../begin/ScalesForm.vue'
import Devices from '../share/Devices.vue'
import Spreadsheet from '../begin/Spreadsheet.vue'
import UnitsForm from '../begin/UnitsForm.vue'
import SellingForm from '../begin/SellingForm.vue'
import UsualPour from '../begin/UsualPour.vue'
import Instruments from '../bench/Instruments.vue'
import { api, send, take, type Schemas } from '../api/client'
import { useRefresh } from '../api/queries'
import { useWrite } from '../api/writes'
import { dated } from '../support/dated'
import { fixed, written } from '../support/decimal'

const client = useQueryClient()
const refresh = useRefresh()
const { data, error } = useQuery({
  queryKey: ['settings'],
  queryFn: () => take(api.GET('/api/settings')),
  staleTime: 0,
})
const copies = reactive({ folder: '', keep: '14' })
const told = ref('')
/** One thing that is set here; settings come back whole, of anything else it is told what came of it. */
const setting = () =>
  useWrite((ask: () => Promise<Schemas['Settings'] | string>) => ask(), {
    done: (made) => {
      if (typeof made === 'string') told.value = made
      else client.setQueryData(['settings'], made)
    },
  })
const writes = reactive({
  copy: setting(),
  copies: setting(),
  archive: setting(),
  taps: setting(),
  worth: setting(),
  air: setting(),
})
type Place = keyof typeof writes
const busy = computed(() => Object.values(writes).some((w) => w.busy))
const at = (place: Place, pointer: string) =>
  writes[place].faults.filter((f) => f.pointer.startsWith(pointer)).map((f) => f.message)
/** What is said of no field that stands here. */
const elsewhere = (place: Place, fields: RegExp) =>
  writes[place].faults.filter((f) => !fields.test(f.pointer)).map((f) => f.message)
// What is typed and not yet kept stays, whatever else is done on this page.
watch(
  () => [data.value?.copies.folder ?? '', data.value?.copies.keep ?? 14] as const,
  ([folder, keep], before) => {
    if (before && folder === before[0] && keep === before[1]) return
    copies.folder = folder
    copies.keep = String(keep)
  },
  { immediate: true },
)
const newest = computed(() => data.value?.copies.copies[0])
const moment = (iso: string) => dated(new Date(iso), { dateStyle: 'medium', timeStyle: 'short' })
const size = (bytes: number) => `${fixed(bytes / 2 ** 20, 1)} MB`
const number = (typed: string) => readNumber(typed) ?? NaN

function attempt(place: Place, what: () => Promise<Schemas['Settings'] | string>) {
  told.value = ''
  return writes[place].run(what)
}
const TAPS: Record<Schemas['TapsSet']['taps'], string> = {
  looks: 'whenever I look, also when it is still the same',
  turns: 'only when it has changed',
}
const keepTaps = (taps: Schemas['TapsSet']['taps']) =>
  attempt('taps', async () => {
    const done = await take(api.PUT('/api/settings/taps', { body: { taps } }))
    await refresh('fragrances', 'learning')
    return done
  })
const worth = reactive({ drawn: '', different: '', lost: '' })
const WORTH = { drawn: 'as planned', different: 'sellable', lost: 'lost' } as const
watch(
  () => JSON.stringify(data.value?.utility),
  () => {
    for (const key of ['drawn', 'different', 'lost'] as const)
      worth[key] = data.value ? written(data.value.utility[key]) : ''
  },
  { immediate: true },
)
const keepWorth = () =>
  attempt('worth', () =>
    take(
      api.PUT('/api/settings/utility', {
        body: { drawn: number(worth.drawn), different: number(worth.different), lost: number(worth.lost) },
      }),
    ),
  )
const humidity = ref('')
watch(
  () => data.value?.humidity,
  (share) => (humidity.value = share === undefined ? '' : String(Math.round(100 * share))),
  { immediate: true },
)
const keepAir = () =>
  attempt('air', async () => {
    const done = await take(
      api.PUT('/api/settings/air', { body: { humidity: number(humidity.value) / 100 } }),
    )
    await refresh('rest', 'learning')
    return done
  })
const keepFolder = () =>
  attempt('copies', () =>
    take(
      api.PUT('/api/settings/copies', {
        body: { folder: copies.folder.trim() || null, keep: number(copies.keep) },
      }),
    ),
  )
const backTo = ref<Schemas['CopyMade'] | null>(null)
const goBack = () =>
  attempt('copy', async () => {
    const name = backTo.value?.name ?? ''
    backTo.value = null
    await take(api.POST('/api/copies/back', { body: { name } }))
    await askUnits() // it may have read in others then
    await client.invalidateQueries()
    return 'It is as it was then.'
  })
const copy = () => attempt('copy', () => take(api.POST('/api/copies')))
const bring = (event: Event) =>
  attempt('archive', async () => {
    const input = event.target as HTMLInputElement
    const file = input.files?.[0]
    input.value = ''
    if (!file) return ''
    const form = new FormData()
    form.append('file', file)
    const done = await send<Schemas['ArchiveRead']>('/api/archive', form)
    await client.invalidateQueries()
    return done.message
  })
</script>

<template>
  <div class="mx-auto flex max-w-5xl flex-col gap-8 px-6 py-5 max-sm:px-4">
    <h1 class="text-3xl font-bold">Workshop</h1>
    <p v-if="error" class="message" role="alert">{{ error.message }}</p>
    <section v-if="data" aria-labelledby="copies">
      <div class="ledger-head"><h2 id="copies">Copies</h2></div>
      <p class="pt-2 text-lg">
        <template v-if="newest">
          The last copy was made <b>{{ moment(newest.made) }}</b> ({{ size(newest.size) }}).
        </template>
        <template v-else>No copy yet. One is made a day while the workshop is in use.</template>
      </p>
      <p v-if="data.copies.trouble" class="message" role="alert">{{ data.copies.trouble }}</p>
      <p class="note pt-1">
        Everything is in one file, <code class="fig break-all">{{ data.copies.file }}</code>. A copy on the
        same disk does not outlive the disk: choose a folder on another one.
      </p>
      <div class="flex flex-wrap items-end gap-x-5 gap-y-3 pt-3">
        <button type="button" class="key key-main" :disabled="busy" @click="copy">Make a copy now</button>
        <a href="/api/workshop.sqlite" class="key" download>Download a copy</a>
        <label class="flex flex-1 basis-80 flex-col">
          <span class="note">folder for copies</span>
          <input v-model="copies.folder" class="field" :aria-invalid="at('copies', '/folder').length > 0" />
          <span v-for="message in at('copies', '/folder')" :key="message" class="message" role="alert">{{
            message
          }}</span>
        </label>
        <label class="flex flex-col">
          <span class="note">copies kept</span>
          <input v-model="copies.keep" class="field fig w-16 text-right" inputmode="numeric" />
          <span v-for="message in at('copies', '/keep')" :key="message" class="message" role="alert">{{
            message
          }}</span>
        </label>
        <button type="button" class="key" :disabled="busy" @click="keepFolder">Save copies</button>
      </div>
      <p
        v-for="message in elsewhere('copies', /^.(folder|keep)/)"
        :key="message"
        class="message pt-2"
        role="alert"
      >
        {{ message }}
      </p>
      <p v-for="f in writes.copy.faults" :key="f.message" class="message pt-2" role="alert">
        {{ f.message }}
      </p>
      <p v-if="told && writes.copy.written" role="status" class="pt-2 font-semibold">{{ told }}</p>
      <ol v-if="data.copies.copies.length" class="columns-1 pt-3 sm:columns-2">
        <li v-for="c in data.copies.copies.slice(0, 14)" :key="c.name" class="note break-inside-avoid">
          {{ moment(c.made) }}, {{ size(c.size) }}
          <button type="button" class="pl-1 underline" :disabled="busy" @click="backTo = c">
            go back to it
          </button>
        </li>
      </ol>
      <p v-if="backTo" class="mt-3 border-l-4 border-iron bg-chalk px-4 py-3" role="alert">
        Go back to how all of it was <b>{{ moment(backTo.made) }}</b>? What stands now is copied first, so
        this can be gone back from too.
        <span class="flex gap-3 pt-2">
          <button type="button" class="key key-main" :disabled="busy" @click="goBack">Go back</button>
          <button type="button" class="key" @click="backTo = null">Leave it as it is</button>
        </span>
      </p>
    </section>
    <section v-if="data" aria-labelledby="archive">
      <div class="ledger-head"><h2 id="archive">All of it, to take along</h2></div>
      <p class="pt-2">
        Recipes, pours with every tap, ingredients, lots and pictures as one archive that any program can
        read. Reading one adds what is not here yet and changes nothing that is.
      </p>
      <p v-if="told && writes.archive.written" role="status" class="pt-2 font-semibold">{{ told }}</p>
      <p v-for="f in writes.archive.faults" :key="f.message" class="message pt-2" role="alert">
        {{ f.message }}
      </p>
      <p class="flex flex-wrap gap-3 pt-3">
        <a href="/api/workshop.zip" class="key" download>Download the archive</a>
        <a href="/api/pictures.zip" class="key" download>All pictures, a folder a batch</a>
        <label class="key cursor-pointer focus-within:outline-3">
          Read an archive
          <input type="file" accept=".zip,application/zip" class="sr-only" @change="bring" />
        </label>
      </p>
    </section>
    <Spreadsheet v-if="data" />
    <Devices />

    <div v-if="data" class="grid gap-x-12 gap-y-8 lg:grid-cols-2">
      <section aria-labelledby="units">
        <div class="ledger-head"><h2 id="units">Units</h2></div>
        <UnitsForm class="pt-2" />
      </section>

      <section aria-labelledby="scales">
        <div class="ledger-head"><h2 id="scales">Scales</h2></div>
        <p class="pt-2">
          Every weight is shown as your scales can show it, on the finest that can hold it. Lye is never
          rounded up.
        </p>
        <ScalesForm class="pt-2" :scales="data.scales" />
      </section>

      <section aria-labelledby="usual">
        <div class="ledger-head"><h2 id="usual">New recipes are poured</h2></div>
        <UsualPour class="pt-2" :usual="data.usual" />
      </section>

      <section aria-labelledby="selling">
        <div class="ledger-head"><h2 id="selling">Batch numbers and labels</h2></div>
        <SellingForm class="pt-2" :selling="data.selling" :example="data.example" />
      </section>

      <section aria-labelledby="air">
        <div class="ledger-head"><h2 id="air">Air where soap cures</h2></div>
        <form class="flex flex-wrap items-end gap-x-6 gap-y-2 pt-2" @submit.prevent="keepAir">
          <label class="flex flex-col">
            <span class="note">relative humidity, %</span>
            <input
              v-model="humidity"
              class="field fig w-16 text-right"
              inputmode="decimal"
              :aria-invalid="writes.air.faults.length > 0"
            />
          </label>
          <button type="submit" class="key" :disabled="busy">Save humidity</button>
          <span class="note">Dry 40, usual 50, damp 65 or more: there bars lose less, and more slowly.</span>
        </form>
        <p v-for="f in writes.air.faults" :key="f.message" class="message" role="alert">{{ f.message }}</p>
      </section>

      <section aria-labelledby="taps">
        <div class="ledger-head"><h2 id="taps">At the bench I tap the stage</h2></div>
        <ul>
          <li v-for="(words, key) in TAPS" :key="key" class="row py-1.5">
            <label class="flex items-center gap-2">
              <input
                type="radio"
                name="taps"
                class="size-4 accent-ink"
                :checked="data.taps === key"
                :disabled="busy"
                @change="keepTaps(key)"
              />
              {{ words }}
            </label>
          </li>
        </ul>
        <p class="note pt-1">
          Who taps only what has changed says by silence that it has not: the forecasts learn from that too.
        </p>
        <p v-if="writes.taps.trouble" class="message" role="alert">{{ writes.taps.trouble }}</p>
      </section>

      <section aria-labelledby="worth">
        <div class="ledger-head"><h2 id="worth">What a pour is worth to me</h2></div>
        <p class="note pt-2">Advice weighs outcomes by these, from 0 to 1.</p>
        <form class="flex flex-wrap items-end gap-x-6 gap-y-2 pt-1" @submit.prevent="keepWorth">
          <label v-for="(words, key) in WORTH" :key="key" class="flex flex-col">
            <span class="note">{{ words }}</span>
            <input
              v-model="worth[key]"
              class="field fig w-16 text-right"
              inputmode="decimal"
              :aria-invalid="at('worth', `/${key}`).length > 0"
            />
          </label>
          <button type="submit" class="key" :disabled="busy">Use these values</button>
        </form>
        <p v-for="f in writes.worth.faults" :key="f.message" class="message" role="alert">{{ f.message }}</p>
      </section>

      <Instruments />
    </div>
  </div>
</template>
