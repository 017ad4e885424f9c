<script setup lang="ts">
/** What else can go wrong, what would tell more beforehand, and what is not known. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take, type Recipe, type Schemas } from '../api/client'
import { injectDraft } from '../ledger/useDraft'
import { chance } from '../support/format'
import { fixed } from '../support/decimal'

const draft = injectDraft()
const { data, error } = useQuery({
  queryKey: ['prospects', draft.id, draft.recipe],
  queryFn: ({ signal }) =>
    take(
      api.POST('/api/prospects', { body: { recipe: draft.recipe.value as Recipe, seed: draft.id }, signal }),
    ),
  enabled: computed(() => draft.sheet.value !== null && draft.current.value),
  placeholderData: (before) => before,
  gcTime: 10_000,
})
const SAID: Record<Schemas['Hazard']['key'], string> = {
  seizing: 'seized',
  ricing: 'riced',
  separation: 'separated',
  'false-trace': 'set falsely',
  overheating: 'overheated',
  gel: 'gelled',
  discolouring: 'discoloured',
}
const scouting = computed(() => data.value?.scouting)
const spread = (ratio: number) => `${fixed(ratio, 1)}×`
</script>

<template>
  <p v-if="error" class="message" role="alert">{{ error.message }}</p>
  <section v-if="data && draft.sheet.value" aria-labelledby="hazards">
    <h2 id="hazards" class="pb-1 text-lg font-bold">What else can go wrong</h2>
    <ol class="border-t-3 border-ink">
      <li
        v-for="h in data.hazards"
        :key="h.key"
        class="row grid grid-cols-[7.5rem_6.5rem_minmax(0,1fr)] gap-x-3 py-1"
      >
        <b>{{ h.name }}</b>
        <span :class="h.danger ? 'font-bold text-iron' : ''">
          <span class="fig">{{ chance(h.odds) }}</span>
          <span class="note block leading-tight"
            >{{ h.words
            }}<template v-if="h.span"
              >,
              <span class="whitespace-nowrap"
                >{{ Math.round(100 * h.span.low) }}–{{ chance(h.span.high) }}</span
              ></template
            ></span
          >
        </span>
        <span class="text-sm leading-snug">
          {{ h.message.charAt(0).toUpperCase() + h.message.slice(1)
          }}<template v-if="h.asked"
            >; <b>{{ h.seen }} of {{ h.asked }}</b> {{ SAID[h.key] }}</template
          >.
          <span v-if="h.lower.length" class="text-stir">Lower: {{ h.lower.join('; ') }}.</span>
        </span>
      </li>
    </ol>
  </section>
  <section v-if="scouting && draft.sheet.value" aria-labelledby="tries" class="pt-5">
    <h2 id="tries" class="pb-1 text-lg font-bold">What would tell more</h2>
    <p class="note pb-1">
      {{
        scouting.tries.length
          ? `Of 10 such batters 8 come to ${scouting.stage} within a span; its end over its beginning, now and after.`
          : 'No small test would narrow this forecast by much.'
      }}
    </p>
    <ol>
      <li
        v-for="(t, i) in scouting.tries"
        :key="t.key"
        class="row grid grid-cols-[minmax(0,1fr)_auto] gap-x-4 py-1"
      >
        <span class="text-sm">
          <b :class="i === 0 ? 'text-base' : ''">{{ t.name }}.</b> {{ t.message }}
        </span>
        <span
          class="fig text-right text-sm whitespace-nowrap"
          title="end over beginning of the span that holds 8 in 10"
        >
          {{ spread(t.now) }} → <b>{{ spread(t.then) }}</b>
        </span>
      </li>
    </ol>
    <ul v-if="scouting.missing.length" class="pt-2 text-sm">
      <li v-for="m in scouting.missing" :key="m.key">
        {{ m.message }}
        <span class="text-quiet">It makes the span {{ ((m.widens - 1) * 100).toFixed(0) }} % wider.</span>
      </li>
    </ul>
  </section>
</template>
