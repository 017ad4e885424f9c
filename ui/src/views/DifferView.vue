<script setup lang="ts">
/** What differed? Pours against the first one, each difference by the minutes the clock gives it; no cause is claimed. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '../api/client'
import { day, minutes, signed } from '../support/format'
import SignedMinutes from '../support/SignedMinutes.vue'
import { fixed } from '../support/decimal'

const route = useRoute()
const pours = computed(() =>
  String(route.query.pours ?? '')
    .split(',')
    .filter(Boolean),
)
const { data, error } = useQuery({
  queryKey: ['differ', pours],
  queryFn: () => take(api.POST('/api/differ', { body: { pours: pours.value } })),
  enabled: computed(() => pours.value.length > 1),
  retry: false,
})
const widest = computed(() =>
  Math.max(1, ...(data.value?.others ?? []).flatMap((o) => o.differences.map((d) => Math.abs(d.minutes)))),
)
/** How much later or sooner, up to the pour it is held against. */
function later(seen: number | null, modelled: number) {
  const m = seen ?? modelled
  const known = seen === null ? ', by all the clock knows,' : ''
  if (Math.abs(m) < 0.1) return `as soon${known} as`
  return `about ${minutes(Math.abs(m))} min ${m < 0 ? 'sooner' : 'later'}${known} than`
}
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-baseline gap-4">
      <h1 class="text-3xl font-bold">What differed</h1>
      <RouterLink to="/pours" class="key ml-auto">Back to the pours</RouterLink>
    </div>
    <p v-if="pours.length < 2" class="py-6 text-lg">Tick two or more pours to see what differed.</p>
    <p v-if="error" class="message pt-3" role="alert">{{ error.message }}</p>
    <template v-if="data">
      <section v-for="(o, n) in data.others" :key="o.pour" class="pt-5">
        <h2 class="pb-1 text-lg font-bold">
          {{ o.recipe }} of {{ day(data.pours[n]?.started ?? '') }} came to {{ o.stage }} trace
          {{ later(o.seen, o.modelled) }} {{ data.first.recipe }} of {{ day(data.first.started) }}
        </h2>
        <p class="pb-2 text-quiet">
          <template v-if="o.first.looked !== null && o.second.looked !== null">
            Seen near {{ minutes(o.second.looked) }} min after emulsion in {{ o.second.portion }}, against
            {{ minutes(o.first.looked) }} in {{ o.first.portion }}. By all the clock knows it would have been
            {{ minutes(o.second.expected) }} against {{ minutes(o.first.expected) }}:
          </template>
          <template v-else>
            It was not seen in both. The clock expects {{ minutes(o.second.expected) }} min after emulsion in
            {{ o.second.portion }}, against {{ minutes(o.first.expected) }} in {{ o.first.portion }}:
          </template>
        </p>
        <div class="grid gap-x-10 gap-y-4 lg:grid-cols-[1.2fr_1fr]">
          <ol class="border-t-3 border-ink">
            <li v-if="!o.differences.length" class="row py-1">Nothing the clock knows of.</li>
            <li
              v-for="d in o.differences"
              :key="d.key"
              class="row grid grid-cols-[minmax(0,1fr)_7rem_auto] items-center gap-x-4"
            >
              <span class="truncate" :title="d.label">{{ d.label }}</span>
              <SignedMinutes :minutes="d.minutes" :widest="widest" />
              <span class="fig whitespace-nowrap">
                <b>{{ signed(d.minutes) }}</b> <span class="unit">±{{ fixed(d.spread, 1) }} min</span>
              </span>
            </li>
            <li v-if="o.unexplained !== null" class="row flex items-center gap-x-4">
              <span>unexplained: a batch's own luck, or something not logged</span>
              <b class="fig ml-auto whitespace-nowrap">{{ signed(o.unexplained) }} min</b>
            </li>
            <li v-if="o.next_time" class="row py-1 font-semibold">{{ o.next_time }}</li>
          </ol>
          <table v-if="o.unlike.length" class="self-start text-left">
            <thead class="note border-b-3 border-rule">
              <tr>
                <th class="font-normal">also not the same</th>
                <th class="font-normal">{{ day(data.first.started) }}</th>
                <th class="font-normal">{{ day(data.pours[n]?.started ?? '') }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="u in o.unlike" :key="u.name" class="row align-baseline">
                <th scope="row" class="py-1 pr-3 font-normal text-quiet">{{ u.name }}</th>
                <td class="pr-3">{{ u.left }}</td>
                <td>{{ u.right }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <p class="note pt-5">
        Minutes are what the clock believes a difference is worth, not proof of a cause. What is listed
        without minutes, and whatever was not logged, is in what is unexplained.
      </p>
    </template>
  </div>
</template>
