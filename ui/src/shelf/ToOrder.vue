<script setup lang="ts">
/** What the planned batches lack, as a list to order by; for a fragrance also what could stand in. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'
import { dayWord } from '../support/when'
import { weight } from '../support/quantity'
import Told from '../support/Told.vue'

const { data } = useQuery({
  queryKey: ['stock', 'order'],
  queryFn: () => take(api.GET('/api/stock/order')),
  staleTime: 0,
})
const counted = computed(() => data.value?.lines.filter((l) => l.counted) ?? [])
const uncounted = computed(() => data.value?.lines.filter((l) => !l.counted) ?? [])
const now = new Date()
</script>

<template>
  <section v-if="data?.planned" class="pt-4" aria-labelledby="order" data-test="order">
    <div class="ledger-head">
      <h2 id="order">To order</h2>
      <span class="note"
        >for {{ data.planned }} planned {{ data.planned === 1 ? 'batch' : 'batches' }} with a day to be ready
        on</span
      >
      <a href="/api/stock/order.csv" class="ml-auto text-sm underline" download>Order list as CSV</a>
    </div>
    <p v-if="!counted.length" class="py-1">Everything tracked is in stock.</p>
    <ul>
      <li v-for="l in counted" :key="l.item" class="row flex flex-wrap items-baseline gap-x-4 py-0.5">
        <b class="w-52">{{ l.name }}</b>
        <b class="fig"><Told :text="weight(l.missing)" /></b>
        <span class="note">of {{ weight(l.need) }}, {{ weight(l.there) }} there</span>
        <span class="font-semibold">by {{ dayWord(new Date(`${l.by}T12:00:00`), now) }}</span>
        <span class="note">{{ l.batches.join(', ') }}</span>
        <span v-if="l.instead.length" class="w-full pb-1 text-sm">
          <span class="text-quiet">could stand in or top it up:</span>
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
    <p v-if="uncounted.length" class="note py-1">
      Not tracked, look for yourself:
      {{ uncounted.map((l) => `${l.name} ${weight(l.need)}`).join(', ') }}.
    </p>
  </section>
</template>
