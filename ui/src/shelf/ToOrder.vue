<script setup lang="ts">
/** What the planned batches lack, as a list to order by; for a fragrance also what could stand in. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'
import { dayWord } from '../support/when'
import { money } from '../support/money'
import { printed } from '../support/paper'
import { weight } from '../support/quantity'
import Told from '../support/Told.vue'

const { data } = useQuery({
  queryKey: ['stock', 'order'],
  queryFn: () => take(api.GET('/api/stock/order')),
  staleTime: 0,
})
const counted = computed(() => data.value?.lines.filter((l) => l.counted) ?? [])
/** Lines by the supplier they were bought from last; one part where none is said. */
const suppliers = computed(() => {
  const by = new Map<string, typeof counted.value>()
  for (const l of counted.value) by.set(l.supplier, [...(by.get(l.supplier) ?? []), l])
  return [...by].sort(([a], [b]) => Number(!a) - Number(!b) || a.localeCompare(b))
})
const uncounted = computed(() => data.value?.lines.filter((l) => !l.counted) ?? [])
const now = new Date()
</script>

<template>
  <section v-if="data?.planned" class="pt-4" aria-labelledby="order" data-test="order">
    <div class="ledger-head">
      <h2 id="order">To order</h2>
      <span class="note">for {{ data.planned }} {{ data.planned === 1 ? 'pour' : 'pours' }} to come</span>
      <span class="ml-auto flex gap-4 text-sm">
        <a href="/api/stock/order.csv" class="underline" download>Order list as CSV</a>
        <a :href="`/api/stock/order.pdf?${printed()}`" class="underline" download>to print</a>
      </span>
    </div>
    <p v-if="!counted.length" class="py-1">Everything tracked is in stock.</p>
    <template v-for="[supplier, lines] in suppliers" :key="supplier">
      <h3 v-if="suppliers.length > 1 || supplier" class="pt-2 font-bold">
        {{ supplier || 'Supplier not said' }}
      </h3>
      <ul>
        <li v-for="l in lines" :key="l.item" class="row flex flex-wrap items-baseline gap-x-4 py-0.5">
          <b class="w-52">{{ l.name }}</b>
          <b class="fig"
            ><template v-if="l.packs && l.pack">{{ l.packs }} × {{ weight(l.pack) }}</template
            ><Told v-else :text="weight(l.missing)"
          /></b>
          <span class="note"
            ><template v-if="l.packs">{{ weight(l.missing) }} missing </template>of {{ weight(l.need) }},
            {{ weight(l.there) }} there<template v-if="l.cost !== null"
              >, about {{ money(l.cost) }}</template
            ></span
          >
          <span class="font-semibold">by {{ dayWord(new Date(`${l.by}T12:00:00`), now) }}</span>
          <span class="note">{{ l.batches.join(', ') }}</span>
          <span v-if="l.instead.length" class="w-full pb-1 text-sm">
            <span class="text-quiet">could stand in or top it up:{{ ' ' }}</span>
            <template v-for="(s, n) in l.instead" :key="s.fragrance"
              ><template v-if="n">; </template>
              <RouterLink :to="`/shelf/${s.fragrance}`" class="font-semibold hover:underline">{{
                s.name
              }}</RouterLink>
              {{ s.message.join(', ')
              }}<template v-if="s.left !== null">, {{ weight(s.left) }} there</template></template
            >
            <span class="text-quiet">. Smell decides; nobody reckons that.</span>
          </span>
        </li>
      </ul>
    </template>
    <p v-if="uncounted.length" class="note py-1">
      Not tracked, look for yourself:
      {{ uncounted.map((l) => `${l.name} ${weight(l.need)}`).join(', ') }}.
    </p>
  </section>
</template>
