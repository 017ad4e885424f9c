<script setup lang="ts">
/** What is left of everything, until when it is good, and what it cost. Pours take from it by themselves. */
import { inField, ownUnit, readNumber, weight } from '../support/quantity'
import { computed, reactive, ref } from 'vue'
import { api, fault, Refused, take, type Fault, type Schemas } from '../api/client'
import { useRefresh, useStock } from '../api/queries'
import PickList from '../fields/PickList.vue'
import LotTrace from '../shelf/LotTrace.vue'
import MakeLot from '../shelf/MakeLot.vue'
import ToOrder from '../shelf/ToOrder.vue'
import ShelfTabs from '../shelf/ShelfTabs.vue'
import FileTold from '../support/FileTold.vue'
import Told from '../support/Told.vue'
import { useFile } from '../support/useFile'
import { units } from '../support/units'
import { money, moneyHere, priced, priceKept, priceShown } from '../support/money'
import { day } from '../support/format'

type Lot = Schemas['Lot']
const { data, error, isPending } = useStock()
const refresh = useRefresh()
/** This moment as a date-and-time field has it. */
const rightNow = () => new Date().toLocaleString('sv').slice(0, 16).replace(' ', 'T')
const form = reactive({
  id: '',
  item: null as string | null,
  label: '',
  grams: '',
  counted: '',
  left: null as number | null,
  revision: null as number | null,
  expires: '',
  bought: '',
  opened: '',
  price: '',
  paid: null as number | null,
  supplier: '',
  code: '',
  purity: '',
})
const open = ref(false)
const making = ref(false)
const faults = ref<Fault[]>([])
const gone = ref<{ id: string; name: string; how: string } | null>(null)
const find = ref('')
const traced = ref<{ id: string; name: string } | null>(null)

const items = computed(() =>
  (data.value?.items ?? []).map((i) => ({ id: i.item, name: i.name, hint: i.item.split(':')[0] })),
)
const nameOf = (item: string) => data.value?.items.find((i) => i.item === item)?.name ?? item
const rows = computed(() =>
  (data.value?.lots ?? [])
    .map((x) => ({ ...x, name: nameOf(x.lot.item) }))
    .filter((x) => `${x.name} ${x.lot.label}`.toLowerCase().includes(find.value.trim().toLowerCase()))
    .sort((a, b) => a.name.localeCompare(b.name)),
)
const anyOpened = computed(() => rows.value.some((x) => x.lot.opened))
const alkali = computed(() => !!form.item?.startsWith('alkali:'))
const at = (pointer: string) => faults.value.find((f) => f.pointer === pointer)?.message
/** Nothing that is counted or paid is below nothing. */
const above = (read: number | null) => (read === null || read < 0 ? null : read)

function edit(id: string, lot: Lot, left: number, revision: number) {
  Object.assign(form, {
    id,
    item: lot.item,
    label: lot.label,
    grams: '',
    counted: rightNow(),
    left: Math.max(left, 0),
    revision,
    expires: lot.expires ?? '',
    bought: lot.bought ?? '',
    opened: lot.opened ?? '',
    price: lot.price_per_kg === null ? '' : inField(priceShown(lot.price_per_kg)),
    paid: lot.price_per_kg,
    supplier: lot.supplier ?? '',
    code: lot.code ?? '',
    purity: lot.purity == null ? '' : inField(100 * lot.purity),
  })
  open.value = true
  faults.value = []
}
function fresh() {
  Object.assign(form, {
    id: '',
    item: null,
    label: '',
    grams: '',
    counted: rightNow(),
    left: null,
    revision: null,
    expires: '',
    bought: '',
    opened: '',
    price: '',
    paid: null as number | null,
    supplier: '',
    code: '',
    purity: '',
  })
  open.value = !open.value
  making.value = false
  faults.value = []
}
async function save() {
  const [grams, paid] = [above(readNumber(form.grams, 'g')), above(readNumber(form.price))]
  const same = form.paid !== null && form.price === inField(priceShown(form.paid))
  const price = same ? form.paid : paid === null ? null : priceKept(paid)
  const counted = form.grams.trim() !== '' || !form.id
  const purity = form.purity.trim() ? readNumber(form.purity) : null
  const wrong = alkali.value && form.purity.trim() !== '' && !(purity !== null && purity > 0 && purity <= 100)
  faults.value = [
    ...(form.item ? [] : [fault('/item', 'Choose what it is.')]),
    ...(counted && grams === null
      ? [fault('/grams', form.grams.trim() ? 'This is not a number.' : 'Say how much there is.')]
      : []),
    ...(wrong ? [fault('/purity', 'A purity is above 0 and at most 100 %.')] : []),
    ...(form.price.trim() && price === null ? [fault('/price_per_kg', 'This is not a number.')] : []),
  ]
  if (faults.value.length || !form.item) return
  const body = {
    item: form.item,
    label: form.label,
    grams: counted ? grams : null,
    counted: counted && form.counted ? new Date(form.counted).toISOString() : null,
    expires: form.expires || null,
    bought: form.bought || null,
    opened: form.opened || null,
    price_per_kg: price,
    supplier: form.supplier,
    code: form.code,
    purity: alkali.value && purity !== null ? purity / 100 : null,
    revision: form.revision,
  }
  try {
    await take(
      api.PUT('/api/stock/{lot_id}', { params: { path: { lot_id: form.id || crypto.randomUUID() } }, body }),
    )
    open.value = false
    await refresh('stock')
  } catch (problem) {
    if (!(problem instanceof Refused)) throw problem
    faults.value = problem.problem.errors.length
      ? problem.problem.errors
      : [fault('/item', problem.problem.detail)]
  }
}
async function remove(id: string, name: string) {
  await take(api.DELETE('/api/stock/{lot_id}', { params: { path: { lot_id: id } } }))
  gone.value = { id, name, how: 'was put away' }
  await refresh('stock')
}
/** It was not made after all: what it took stands there again. */
async function unmake(id: string, name: string) {
  await take(api.DELETE('/api/stock/{lot_id}/made', { params: { path: { lot_id: id } } }))
  gone.value = { id, name, how: 'was not made: what it took stands there again' }
  await refresh('stock')
}
async function restore(id: string) {
  await take(api.POST('/api/stock/{lot_id}/restore', { params: { path: { lot_id: id } } }))
  gone.value = null
  await refresh('stock')
}
const file = useFile(async ({ text }, sure) => {
  const done = await take(api.POST('/api/shelf/import', { body: { text, sure } }))
  await refresh('stock', 'shelf', 'fragrances')
  return `${done.lots} lots and ${done.fragrances} new fragrances were taken in.`
})
const past = (date: string | null | undefined) => !!date && date < new Date().toLocaleDateString('sv')
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
        <button type="button" class="key" @click="((making = !making), (open = false))">
          {{ making ? 'Cancel' : 'Made here' }}
        </button>
        <button type="button" class="key key-main" @click="fresh">{{ open ? 'Cancel' : 'New lot' }}</button>
      </span>
    </div>
    <FileTold :file="file" />
    <form
      v-if="open"
      class="mt-3 grid gap-x-8 gap-y-3 border-l-4 border-ink bg-chalk px-5 py-4 sm:grid-cols-2 md:grid-cols-3"
      @submit.prevent="save"
    >
      <div class="flex flex-col">
        <span class="note">what it is</span>
        <PickList label="Ingredient" :options="items" :chosen="form.item" @pick="(id) => (form.item = id)" />
        <span v-if="at('/item')" class="message" role="alert">{{ at('/item') }}</span>
      </div>
      <label class="flex flex-col">
        <span class="note">lot, bottle or delivery</span>
        <input v-model="form.label" class="field" maxlength="80" />
      </label>
      <label class="flex flex-col">
        <span class="note">{{
          form.id ? `counted anew, ${ownUnit('g')} (empty: no count)` : `there now, ${ownUnit('g')}`
        }}</span>
        <input
          v-model="form.grams"
          class="field fig"
          inputmode="decimal"
          :placeholder="form.left === null ? '' : `${weight(form.left)} by the book`"
          :aria-invalid="!!at('/grams')"
        />
        <span v-if="at('/grams')" class="message" role="alert">{{ at('/grams') }}</span>
      </label>
      <label class="flex flex-col">
        <span class="note">counted at; what was poured before is in it</span>
        <input v-model="form.counted" type="datetime-local" class="field" :aria-invalid="!!at('/counted')" />
        <span v-if="at('/counted')" class="message" role="alert">{{ at('/counted') }}</span>
      </label>
      <label class="flex flex-col">
        <span class="note">good until (empty when not stated)</span>
        <input v-model="form.expires" type="date" class="field" />
      </label>
      <label class="flex flex-col">
        <span class="note">bought (empty when not known)</span>
        <input v-model="form.bought" type="date" class="field" />
      </label>
      <label class="flex flex-col">
        <span class="note">opened (empty: still closed)</span>
        <input v-model="form.opened" type="date" class="field" />
      </label>
      <label class="flex flex-col">
        <span class="note">price of {{ priced() }}, in {{ units.money || moneyHere() || 'your money' }}</span>
        <input
          v-model="form.price"
          class="field fig"
          inputmode="decimal"
          :aria-invalid="!!at('/price_per_kg')"
        />
        <span v-if="at('/price_per_kg')" class="message" role="alert">{{ at('/price_per_kg') }}</span>
      </label>
      <label class="flex flex-col">
        <span class="note">supplier</span>
        <input v-model="form.supplier" class="field" maxlength="80" />
      </label>
      <label class="flex flex-col">
        <span class="note">their batch number</span>
        <input v-model="form.code" class="field" maxlength="80" />
      </label>
      <label v-if="alkali" class="flex flex-col">
        <span class="note">purity, % (its certificate)</span>
        <input v-model="form.purity" class="field fig" inputmode="decimal" :aria-invalid="!!at('/purity')" />
        <span v-if="at('/purity')" class="message" role="alert">{{ at('/purity') }}</span>
      </label>
      <button type="submit" class="key key-main justify-self-start">
        {{ !form.id ? 'Save' : form.grams.trim() ? 'Save the count' : 'Save' }}
      </button>
    </form>
    <MakeLot v-if="making" :items="data?.items ?? []" @done="making = false" />
    <ToOrder />
    <p v-if="gone" class="pt-2" role="status">
      {{ gone.name }} {{ gone.how }}.
      <button type="button" class="underline" @click="restore(gone.id)">Bring it back</button>
    </p>
    <p v-if="error" class="message pt-4" role="alert">{{ error.message }}</p>
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
          <td class="pl-6 max-sm:pl-0 max-sm:text-sm" :class="past(x.lot.expires) ? 'message' : ''">
            <template v-if="x.lot.expires"
              ><span class="sm:hidden">good until </span>{{ day(`${x.lot.expires}T12:00`) }}</template
            >
            <template v-else><span class="max-sm:hidden">—</span></template>
          </td>
          <td class="text-right whitespace-nowrap">
            <button
              type="button"
              class="px-2 text-sm underline"
              :aria-expanded="traced?.id === x.id"
              @click="traced = { id: x.id, name: `${x.name}${x.lot.label ? `, ${x.lot.label}` : ''}` }"
            >
              in which batches
            </button>
            <button
              type="button"
              class="px-2 text-sm underline"
              @click="edit(x.id, x.lot, x.left, x.revision)"
            >
              edit stock
            </button>
            <button
              v-if="x.lot.made_of?.length"
              type="button"
              class="px-2 text-sm underline"
              :title="x.lot.made_of.map((t) => `${nameOf(t.item)} ${weight(t.grams)}`).join(', ')"
              @click="unmake(x.id, x.name)"
            >
              not made
            </button>
            <button
              type="button"
              class="take-out"
              :aria-label="`Put away ${x.name}`"
              @click="remove(x.id, x.name)"
            >
              ×
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
