<script setup lang="ts">
/** Why medium trace comes when it does, in signed minutes that add up: of the portion that is chosen. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Recipe, type Schemas } from '../api/client'
import { injectDraft } from '../ledger/useDraft'
import SignedMinutes from '../support/SignedMinutes.vue'
import { fixed } from '../support/decimal'
import { minutes, signed } from '../support/format'

const props = defineProps<{ lead: Schemas['Reasons'] }>()
const draft = injectDraft()
const portions = computed(() => draft.recipe.value?.design.portions.map((p) => p.name) ?? [])
const chosen = ref<string | null>(null)
/** Asked for only where another portion was chosen than the one the forecast tells of. */
const other = computed(() =>
  chosen.value && chosen.value !== props.lead.portion && portions.value.includes(chosen.value)
    ? chosen.value
    : null,
)
const asked = useQuery({
  queryKey: computed(() => ['reasons', draft.id, other.value, props.lead]),
  enabled: computed(() => other.value !== null),
  queryFn: ({ signal }) =>
    take(
      api.POST('/api/reasons', {
        body: { recipe: draft.recipe.value as Recipe, seed: draft.id, portion: other.value ?? '' },
        signal,
      }),
    ),
  placeholderData: (last) => last,
})
const reasons = computed(() => (other.value && asked.data.value?.reasons) || props.lead)
const widest = computed(() => Math.max(1, ...reasons.value.reasons.map((r) => Math.abs(r.minutes))))
</script>

<template>
  <section aria-labelledby="why">
    <h2 id="why" class="pb-1.5 text-lg font-bold">
      Why medium trace comes at about {{ minutes(reasons.here) }} min in {{ reasons.portion }}
      <span class="font-normal text-quiet">
        instead of {{ minutes(reasons.usual) }} in {{ reasons.usual_words }}
      </span>
    </h2>
    <p v-if="portions.length > 1" class="flex flex-wrap gap-2 pb-2" role="group" aria-label="Portion">
      <button
        v-for="name in portions"
        :key="name"
        type="button"
        class="key max-w-40 truncate text-sm font-normal"
        :class="reasons.portion === name ? 'key-main' : ''"
        :aria-pressed="reasons.portion === name"
        @click="chosen = name"
      >
        {{ name }}
      </button>
    </p>
    <p v-if="!reasons.reasons.length" class="note">Nothing sets this batter apart from it.</p>
    <ol>
      <li
        v-for="r in reasons.reasons"
        :key="r.key"
        class="row grid grid-cols-[minmax(0,1fr)_8rem_auto] items-center gap-x-4 sm:grid-cols-[minmax(0,11rem)_minmax(6rem,1fr)_auto] xl:grid-cols-[minmax(0,11rem)_minmax(6rem,1fr)_auto_8.5rem]"
      >
        <span class="truncate" :title="r.label">{{ r.label }}</span>
        <SignedMinutes :minutes="r.minutes" :widest="widest" />
        <span class="fig whitespace-nowrap">
          <b>{{ signed(r.minutes) }}</b> <span class="unit">±{{ fixed(r.spread, 1) }} min</span>
        </span>
        <span class="note max-xl:hidden">{{ r.basis }}</span>
      </li>
    </ol>
    <p class="note pt-2">
      Together {{ signed(reasons.here - reasons.usual) }} min, give or take {{ fixed(reasons.spread, 1) }}.
    </p>
  </section>
</template>
