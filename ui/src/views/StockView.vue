<script setup lang="ts">
/** What is left of everything, until when it is good, and what it cost. Pours take from it by themselves. */
import { weight } from '../support/quantity'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { useRefresh, useStock } from '../api/queries'
import { usePutAway } from '../api/writes'
import LotForm from '../shelf/LotForm.vue'
import LotTrace from '../shelf/LotTrace.vue'
import MakeLot from '../shelf/MakeLot.vue'
import ToOrder from '../shelf/ToOrder.vue'
import ShelfTabs from '../shelf/ShelfTabs.vue'
import FileTold from '../support/FileTold.vue'
import Told from '../support/Told.vue'
import { useFile } from '../support/useFile'
import { money, priced, priceShown } from '../support/money'
import { day } from '../support/format'

const { data, error, isPending } = useStock()
const refresh = useRefresh()
/** The form of a lot that is there, or of a new one. */
const open = ref<{ held: Schemas['LotLeft'] | null } | null>(null)
const making = ref(false)
const find = ref('')
const past = ref(false)
const traced = ref<{ id: string; name: string } | null>(null)

const nameOf = (item: string) => data.value?.items.find((i) => i.item === item)?.name ?? item
const rows = computed(() =>
  (data.value?.lots ?? [])
    .map((x) => ({ ...x, name: nameOf(x.lot.item) }))
    .filter((x) => sought(x.name, x.lot.label))
    .sort((a, b) => a.name.localeCompare(b.name)),
)
const sought = (name: string, label: string) =>
  `${name} ${label}`.toLowerCase().includes(find.value.trim().toLowerCase())
const away = computed(() => (data.value?.away ?? []).filter((x) => sought(nameOf(x.lot.item), x.lot.label)))
const anyOpened = computed(() => rows.value.some((x) => x.lot.opened))
function fresh() {
  open.value = open.value ? null : { held: null }
  making.value = false
}
const lot = (id: string) => ({ params: { path: { lot_id: id } } })
const { gone, putAway, bringBack, trouble } = usePutAway<{ id: string; name: string; made?: boolean }>(
  ({ id, made }) =>
    made
      ? take(api.DELETE('/api/stock/{lot_id}/made', lot(id)))
      : take(api.DELETE('/api/stock/{lot_id}', lot(id))),
  (id) => take(api.POST('/api/stock/{lot_id}/restore', lot(id))),
  ['stock'],
)
const file = useFile(async ({ text }, sure) => {
  const done = await take(api.POST('/api/shelf/import', { body: { text, sure } }))
  await refresh('stock', 'shelf', 'fragrances')
  return `${done.lots} lots and ${done.fragrances} new fragrances were taken in.`
})
const over = (date: string | null | undefined) => !!date && date < new Date().toLocaleDateString('sv')
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <ShelfTabs />
    <div class="flex flex-wrap items-center gap-4">
      <input v-model="find" class="field w-56" aria-label="Find a lot" placeholder="Find a lot" />
      <p class="text-quiet max-md:hidden">Pours take from here by themselves. Count again when it differs.</p>
      <span class="ml-auto flex flex-wrap gap-2">
        <a href="/api/shelf.csv" class="key" download>Shelf as CSV</a>
        <label class="key cursor-pointer focus-within:outline-3">
          Import CSV
          <input type="file" accept=".csv,text/csv" class="sr-only" @change="file.pick" />
        </label>
        <button type="button" class="key" @click="((making = !making), (open = null))">
          {{ making ? 'Cancel' : 'Made here' }}
        </button>
        <button type="button" class="key key-main" @click="fresh">{{ open ? 'Cancel' : 'New lot' }}</button>
      </span>
    </div>
    <FileTold :file="file" />
    <LotForm
      v-if="open"
      :key="open.held?.id ?? 'new'"
      :of="open.held"
      :items="data?.items ?? []"
      :documents="data?.documents?.[open.held?.id ?? ''] ?? []"
      @done="open = null"
    />
    <MakeLot v-if="making" :items="data?.items ?? []" @done="making = false" />
    <ToOrder />
    <p v-if="gone" class="pt-2" role="status">
      {{ gone.name }}
      {{ gone.made ? 'is taken back: what it took is in stock again' : 'was put away' }}.
      <button type="button" class="underline" @click="bringBack(gone.id)">Bring it back</button>
    </p>
    <p v-if="error || trouble" class="message pt-4" role="alert">{{ trouble || error?.message }}</p>
    <p v-else-if="!isPending && !data?.lots.length" class="py-8 text-lg">
      No lots yet. Put in what you have, and recipes say what is short, what would still fit, and what a bar
      costs.
    </p>
    <LotTrace v-if="traced" v-bind="traced" @close="traced = null" />
    <table v-if="rows.length" class="mt-3 w-full text-left">
      <thead class="note border-b-3 border-ink max-sm:sr-only">
        <tr>
          <th class="font-normal">ingredient</th>
          <th class="font-normal max-sm:hidden">lot</th>
          <th class="text-right font-normal">left</th>
          <th class="text-right font-normal max-sm:hidden">{{ priced() }}</th>
          <th v-if="anyOpened" class="pl-6 font-normal max-md:hidden">opened</th>
          <th class="pl-6 font-normal">good until</th>
          <th><span class="sr-only">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="x in rows"
          :key="x.id"
          class="row h-9 max-sm:grid max-sm:h-auto max-sm:grid-cols-[1fr_auto] max-sm:items-baseline max-sm:py-1"
        >
          <th scope="row" class="font-bold">{{ x.name }}</th>
          <td class="max-w-48 truncate text-quiet max-sm:hidden">{{ x.lot.label }}</td>
          <td class="fig text-right" :class="x.left <= 0 ? 'text-iron' : ''">
            <Told :text="weight(x.left)" />
          </td>
          <td class="fig text-right max-sm:hidden">
            {{ x.lot.price_per_kg == null ? '—' : money(priceShown(x.lot.price_per_kg)) }}
          </td>
          <td v-if="anyOpened" class="pl-6 max-md:hidden">
            {{ x.lot.opened ? day(`${x.lot.opened}T12:00`) : '—' }}
          </td>
          <td class="pl-6 max-sm:pl-0 max-sm:text-sm" :class="over(x.lot.expires) ? 'message' : ''">
            <template v-if="x.lot.expires"
              ><span class="sm:hidden">good until </span>{{ day(`${x.lot.expires}T12:00`) }}</template
            >
            <template v-else><span class="max-sm:hidden">—</span></template>
          </td>
          <td class="text-right sm:whitespace-nowrap">
            <button
              type="button"
              class="px-2 text-sm underline"
              :aria-expanded="traced?.id === x.id"
              @click="traced = { id: x.id, name: `${x.name}${x.lot.label ? `, ${x.lot.label}` : ''}` }"
            >
              in which batches
            </button>
            <button type="button" class="px-2 text-sm underline" @click="open = { held: x }">
              edit stock
            </button>
            <button
              v-if="x.lot.made_of?.length"
              type="button"
              class="px-2 text-sm underline"
              :title="x.lot.made_of.map((t) => `${nameOf(t.item)} ${weight(t.grams)}`).join(', ')"
              @click="putAway({ id: x.id, name: x.name, made: true })"
            >
              undo making
            </button>
            <button
              type="button"
              class="take-out"
              :aria-label="`Put away ${x.name}`"
              @click="putAway({ id: x.id, name: x.name })"
            >
              ×
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <section v-if="data?.away?.length" class="pt-4">
      <button type="button" class="min-h-8 text-sm underline" :aria-expanded="past" @click="past = !past">
        {{ past ? 'Hide' : 'Show' }} {{ data.away.length }} put away
      </button>
      <ul v-if="past" data-test="away">
        <li v-for="x in away" :key="x.id" class="row flex flex-wrap items-baseline gap-x-4 py-0.5">
          <b>{{ nameOf(x.lot.item) }}</b>
          <span class="text-quiet">{{ x.lot.label }}</span>
          <span class="note">put away {{ day(x.removed) }}</span>
          <button
            type="button"
            class="ml-auto px-2 text-sm underline"
            @click="
              traced = { id: x.id, name: `${nameOf(x.lot.item)}${x.lot.label ? `, ${x.lot.label}` : ''}` }
            "
          >
            in which batches
          </button>
          <button type="button" class="px-2 text-sm underline" @click="bringBack(x.id)">bring back</button>
        </li>
      </ul>
    </section>
  </div>
</template>
