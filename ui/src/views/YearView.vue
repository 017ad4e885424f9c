<script setup lang="ts">
/** A year's batches: what they cost, what differed, and what must be on record. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { day } from '../support/format'
import { money } from '../support/money'
import { asked, printed } from '../support/paper'
import { saveFrom } from '../support/save'

const year = ref(new Date().getFullYear())
const { data, error, isPending } = useQuery({
  queryKey: computed(() => ['pours', 'costs', year.value]),
  queryFn: () => take(api.GET('/api/costs', { params: { query: { year: year.value } } })),
})
const { data: settings } = useQuery({
  queryKey: ['settings'],
  queryFn: () => take(api.GET('/api/settings')),
})
type Part = keyof Schemas['MonthCost']['parts']
const WORDS: Record<string, string> = {
  fats: 'fats',
  lye: 'lye',
  liquids: 'liquids',
  additives: 'additives',
  scent: 'scent',
  packaging: 'packaging',
  work: 'work',
}
const whole = computed(() => data.value?.months.find((m) => m.month === ''))
/** Columns that hold something this year. */
const parts = computed(() => Object.keys(WORDS).filter((p) => whole.value?.parts[p as Part]) as Part[])
const monthName = (of: string) =>
  of
    ? new Date(`${of}-15T12:00`).toLocaleDateString(navigator.language, { month: 'long' })
    : `${year.value} in all`
/** An amount; of one that lacks a price somewhere, that it is more. */
const paid = (of: number | null, short: boolean) => (!of ? '—' : `${short ? 'over ' : ''}${money(of)}`)
const unset = computed(() => !settings.value?.selling.packaging && !settings.value?.selling.hour)
const refused = ref('')
async function records() {
  refused.value = ''
  try {
    await saveFrom(`/api/records.pdf?year=${year.value}&${printed()}`)
  } catch (problem) {
    refused.value = (problem as Error).message
  }
}
</script>

<template>
  <div class="mx-auto max-w-6xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
      <h1 class="text-3xl font-bold">Costs and records</h1>
      <span class="flex items-center gap-1" role="group" aria-label="Year">
        <button type="button" class="key" :aria-label="`${year - 1}`" @click="year--">‹</button>
        <b class="fig w-14 text-center text-lg">{{ year }}</b>
        <button type="button" class="key" :aria-label="`${year + 1}`" @click="year++">›</button>
      </span>
      <span v-if="data?.all_batches" class="ml-auto flex flex-wrap gap-2">
        <button type="button" class="key" @click="records">The year's records to print</button>
        <a :href="`/api/records.csv?year=${year}&${asked()}`" class="key" download>as CSV</a>
        <a :href="`/api/costs.csv?year=${year}&${asked()}`" class="key" download>Costs as CSV</a>
      </span>
    </div>
    <p v-if="refused" class="message" role="alert">{{ refused }}</p>
    <p v-if="error" class="message pt-4" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="py-6" role="status">Adding up …</p>
    <p v-else-if="!data?.all_batches" class="py-8 text-lg">No batch was poured to its end in {{ year }}.</p>
    <template v-else>
      <p class="note pt-1">
        By the prices of the lots each batch took.
        <RouterLink v-if="unset" to="/workshop#selling" class="underline"
          >Say what packaging and an hour of work cost</RouterLink
        >
        <template v-if="data.unpriced.length">
          Without a price, and not in it: {{ data.unpriced.slice(0, 8).join(', ')
          }}<template v-if="data.unpriced.length > 8"> and {{ data.unpriced.length - 8 }} more</template>.
          <RouterLink to="/stock" class="underline">Stock and prices</RouterLink></template
        >
        <template v-if="whole?.uncounted">
          Of {{ whole.uncounted }} {{ whole.uncounted > 1 ? 'batches' : 'batch' }} nobody counted the bars: a
          bar is reckoned of the others.</template
        >
      </p>
      <div class="overflow-x-auto">
        <table class="mt-3 w-full text-right whitespace-nowrap max-sm:text-sm [&_td]:pl-3 [&_th+th]:pl-3">
          <thead class="note border-b-3 border-ink">
            <tr>
              <th class="text-left font-normal">month</th>
              <th class="font-normal max-sm:hidden">batches</th>
              <th class="font-normal">bars</th>
              <th v-for="p in parts" :key="p" class="font-normal max-md:hidden">{{ WORDS[p] }}</th>
              <th class="font-normal">in all</th>
              <th class="font-normal">a bar</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in data.months" :key="m.month" class="row h-9" :class="m.month ? '' : 'font-bold'">
              <th scope="row" class="text-left" :class="m.month ? 'font-normal' : ''">
                {{ monthName(m.month) }}
              </th>
              <td class="fig max-sm:hidden">{{ m.batches }}</td>
              <td class="fig">{{ m.bars || '—' }}</td>
              <td v-for="p in parts" :key="p" class="fig max-md:hidden">
                {{ m.parts[p] ? money(m.parts[p]) : '—' }}
              </td>
              <td class="fig">{{ paid(m.total, m.short > 0) }}</td>
              <td class="fig font-bold sm:text-lg">{{ paid(m.bar, m.short > 0) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <section v-if="data.differed.length" class="pt-6" aria-labelledby="differed">
        <div class="ledger-head"><h2 id="differed">What changed since the batch before</h2></div>
        <ul>
          <li
            v-for="d in data.differed"
            :key="d.recipe_id"
            class="row flex flex-wrap items-baseline gap-x-4 py-1"
          >
            <RouterLink :to="`/pours/${d.last.pour}/rest`" class="w-56 font-bold hover:underline">{{
              d.recipe
            }}</RouterLink>
            <span class="fig"
              >{{ money(d.before.bar ?? 0) }} → <b>{{ money(d.last.bar ?? 0) }}</b> a bar</span
            >
            <span class="note">{{ d.words.join('; ') || 'much the same' }}</span>
          </li>
        </ul>
      </section>
      <section class="pt-6" aria-labelledby="batches">
        <div class="ledger-head">
          <h2 id="batches">Batches</h2>
          <span v-if="data.all_batches > data.batches.length" class="note"
            >the last {{ data.batches.length }} of {{ data.all_batches }}; all of them in the CSV</span
          >
        </div>
        <ul>
          <li
            v-for="b in data.batches"
            :key="b.pour"
            class="row grid grid-cols-[minmax(0,1fr)_5rem_5.5rem] items-baseline gap-x-4 py-0.5 sm:grid-cols-[7rem_minmax(0,1fr)_4rem_6rem_6rem]"
          >
            <span class="note max-sm:hidden">{{ b.number || day(`${b.day}T12:00`) }}</span>
            <span class="truncate"
              ><RouterLink :to="`/pours/${b.pour}/rest`" class="font-semibold hover:underline">{{
                b.recipe
              }}</RouterLink>
              <span v-if="b.unpriced.length" class="note" :title="b.unpriced.join(', ')"
                >, {{ b.unpriced.length }} without a price</span
              ></span
            >
            <span class="fig note text-right">{{ b.bars ? `${b.bars} bars` : 'not counted' }}</span>
            <span class="fig text-right max-sm:hidden">{{ paid(b.total, b.unpriced.length > 0) }}</span>
            <b class="fig text-right">{{ paid(b.bar, b.unpriced.length > 0) }}</b>
          </li>
        </ul>
      </section>
    </template>
  </div>
</template>
