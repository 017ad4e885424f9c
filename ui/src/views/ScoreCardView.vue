<script setup lang="ts">
/** How good is it? Every pour as it would have been forecast before it, and what your log tuned. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, orSoon, take } from '../api/client'
import { useWrite } from '../api/writes'
import { percent } from '../support/format'
import { dated } from '../support/dated'
import { fixed } from '../support/decimal'

const { data, error } = useQuery({
  queryKey: ['learning'],
  queryFn: () => take(api.GET('/api/learning')),
  refetchInterval: (query) => {
    const now = query.state.data
    const busy = now && (now.scoring !== null || now.tuning !== null || !now.card)
    return orSoon(busy ? 700 : false)(query)
  },
  staleTime: 0,
})
const { run: tune } = useWrite(() => take(api.POST('/api/learning/tune')), {
  touches: ['learning'],
  once: true,
})
const card = computed(() => data.value?.card)
/** How much more chance was given to what came; a log score is only for those who reckon. */
const ratio = (a: number, b: number) => `${a < b ? '−' : '+'}${percent(Math.abs(Math.exp(a - b) - 1), 0)} %`
const noises = computed(() => {
  const [now, trade] = [data.value?.noise, data.value?.trade]
  if (!now || !trade) return []
  return [
    { name: 'one batch to the next', now: now.batch, trade: trade.batch },
    { name: 'one portion to the next', now: now.portion, trade: trade.portion },
    { name: 'the moment of medium trace', now: now.stages[1] ?? 0, trade: trade.stages[1] ?? 0 },
  ]
})
/** "2026-11" as it is said. */
const month = (of: string) => dated(new Date(`${of}-15T12:00`), { month: 'short', year: 'numeric' })
const spread = (sd: number) => `${percent(Math.exp(sd) - 1, 0)} %`
const tallest = computed(() =>
  Math.max(0.01, ...(card.value?.months ?? []).map((m) => Math.abs(m.scores.clock - m.scores.rule))),
)
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-baseline gap-4">
      <h1 class="text-3xl font-bold">Score card</h1>
      <RouterLink to="/pours" class="key ml-auto">Back to the pours</RouterLink>
    </div>
    <p v-if="error" class="message pt-3" role="alert">{{ error.message }}</p>
    <p v-if="data?.failed" class="message pt-3" role="alert">
      This could not be reckoned: {{ data.failed }}. It is tried again when the next pour is logged.
    </p>
    <p v-if="data && !card && !data.failed" class="py-6 text-lg" role="status">
      Going through your pours<template v-if="data.scoring !== null"
        >: {{ percent(data.scoring, 0) }} %</template
      >
      …
    </p>
    <template v-if="card">
      <p class="pt-2 text-lg">{{ card.message }}</p>
      <p v-if="card.drift" class="pt-1">{{ card.drift }}</p>
      <div v-if="card.scores" class="grid gap-x-10 gap-y-6 pt-5 md:grid-cols-2">
        <section aria-labelledby="honest">
          <div class="ledger-head"><h2 id="honest">Do the spans hold what they say?</h2></div>
          <ol>
            <li
              v-for="c in card.coverage"
              :key="c.wanted"
              class="row grid grid-cols-[8rem_minmax(0,1fr)_5rem] items-center gap-x-4"
            >
              <span>{{ percent(c.wanted, 0) }} %</span>
              <svg viewBox="0 0 100 12" preserveAspectRatio="none" class="h-3.5 w-full" aria-hidden="true">
                <rect x="0" y="2" :width="100 * c.found" height="8" fill="var(--color-fair)" />
                <line
                  :x1="100 * c.wanted"
                  :x2="100 * c.wanted"
                  y1="0"
                  y2="12"
                  stroke="var(--color-ink)"
                  stroke-width=".8"
                />
              </svg>
              <b class="fig text-right">{{ percent(c.found, 0) }} held</b>
            </li>
          </ol>
          <p class="note pt-1">
            Each span against the looks that came inside it; the stroke is where it should end.
          </p>
        </section>
        <section aria-labelledby="better">
          <div class="ledger-head"><h2 id="better">Better than what?</h2></div>
          <ol>
            <li class="row flex items-center">
              <span>than a rule of thumb</span>
              <b class="fig ml-auto">{{ ratio(card.scores.clock, card.scores.rule) }}</b>
            </li>
            <li class="row flex items-center">
              <span>than the suppliers' claims alone</span>
              <b class="fig ml-auto">{{ ratio(card.scores.clock, card.scores.claims) }}</b>
            </li>
          </ol>
          <p class="note pt-1">
            How much more chance the forecast gave to what was then seen than the other did, a look ({{
              card.scores.looks
            }}
            looks). Log score {{ fixed(card.scores.clock, 2) }} against {{ fixed(card.scores.claims, 2) }} and
            {{ fixed(card.scores.rule, 2) }}.
          </p>
        </section>
        <section aria-labelledby="months">
          <div class="ledger-head"><h2 id="months">By month</h2></div>
          <ol>
            <li
              v-for="m in card.months"
              :key="m.month"
              class="row grid grid-cols-[5.5rem_4.5rem_minmax(0,1fr)_4rem_6rem] items-center gap-x-3 max-sm:grid-cols-[5rem_4rem_1fr_6rem]"
            >
              <span class="text-sm whitespace-nowrap text-quiet">{{ month(m.month) }}</span>
              <span class="note">{{ m.pours }} pours</span>
              <svg
                viewBox="0 0 100 12"
                preserveAspectRatio="none"
                class="h-3 w-full max-sm:hidden"
                aria-hidden="true"
              >
                <rect
                  :x="
                    m.scores.clock < m.scores.rule
                      ? 50 - (50 * (m.scores.rule - m.scores.clock)) / tallest
                      : 50
                  "
                  y="1"
                  :width="(50 * Math.abs(m.scores.clock - m.scores.rule)) / tallest"
                  height="10"
                  :fill="m.scores.clock < m.scores.rule ? 'var(--color-pot)' : 'var(--color-stir)'"
                />
                <line x1="50" x2="50" y1="0" y2="12" stroke="var(--color-quiet)" stroke-width=".4" />
              </svg>
              <b class="fig">{{ ratio(m.scores.clock, m.scores.rule) }}</b>
              <span class="note text-right">{{ percent(m.inside, 0) }} % in the 80</span>
            </li>
          </ol>
        </section>
        <section aria-labelledby="noise">
          <div class="ledger-head"><h2 id="noise">What your log tuned</h2></div>
          <ol>
            <li v-for="n in noises" :key="n.name" class="row flex items-center gap-3">
              <span>{{ n.name }} differs by</span>
              <b class="fig ml-auto">{{ spread(n.now) }}</b>
              <span class="note w-28 text-right">trade {{ spread(n.trade) }}</span>
            </li>
          </ol>
          <p class="pt-2" role="status">
            <template v-if="data?.tuning !== null && data?.tuning !== undefined">
              Tuning: {{ percent(data.tuning, 0) }} % …
            </template>
            <template v-else-if="data?.noise.pours">Tuned from {{ data.noise.pours }} pours.</template>
            <template v-else>The trade's figures; they are tuned by themselves from 20 pours on.</template>
            <button
              v-if="(data?.card?.pours ?? 0) >= 20"
              type="button"
              class="ml-3 underline"
              :disabled="data?.tuning !== null"
              @click="tune()"
            >
              Tune again
            </button>
          </p>
        </section>
      </div>
      <section v-if="card.each.length" class="pt-6" aria-labelledby="each">
        <div class="ledger-head"><h2 id="each">Pour by pour</h2></div>
        <ol class="md:columns-2 md:gap-10">
          <li v-for="p in card.each" :key="p.pour" class="row flex break-inside-avoid items-center gap-3">
            <span class="w-18 shrink-0 text-sm whitespace-nowrap text-quiet">{{ month(p.month) }}</span>
            <RouterLink :to="`/pours/${p.pour}`" class="truncate hover:underline">{{ p.recipe }}</RouterLink>
            <b class="fig ml-auto">{{ ratio(p.scores.clock, p.scores.rule) }}</b>
            <span class="note w-24 text-right">{{ p.scores.looks }} looks</span>
          </li>
        </ol>
        <p class="note pt-1">
          Each as it would have been forecast before it, from earlier pours only, and told when the scent went
          in and how warm it was. From the thirtieth pour on the clock is refitted every fifth.
        </p>
      </section>
    </template>
  </div>
</template>
