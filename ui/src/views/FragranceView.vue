<script setup lang="ts">
/** A fragrance's file: what was claimed, what was seen, and how sure that makes us. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, Refused, take, type NewFragrance } from '../api/client'
import { useRefresh } from '../api/queries'
import EffectSpan from '../parts/EffectSpan.vue'
import { CLAIM_WORDS, FAMILY_WORDS, percent, times } from '../parts/format'
import FragranceForm from '../parts/FragranceForm.vue'
import SeenStrip from '../parts/SeenStrip.vue'

const props = defineProps<{ id: string }>()
const refresh = useRefresh()
const { data, error } = useQuery({
  queryKey: ['fragrances', props.id],
  queryFn: () =>
    take(api.GET('/api/fragrances/{fragrance_id}', { params: { path: { fragrance_id: props.id } } })),
})
const file = computed(() => data.value?.fragrances[0])
const editing = ref(false)
const refused = ref<Refused | null>(null)
const longest = computed(() => Math.max(5, ...(file.value?.pours ?? []).map((p) => p.watched)))
const seen = computed(() => new Set(file.value?.pours.map((p) => p.pour)).size)

async function save(fragrance: NewFragrance) {
  try {
    await take(
      api.PUT('/api/fragrances/{fragrance_id}', {
        params: { path: { fragrance_id: props.id } },
        body: fragrance,
      }),
    )
    refused.value = null
    editing.value = false
    await refresh('fragrances', 'shelf')
  } catch (problem) {
    if (!(problem instanceof Refused)) throw problem
    refused.value = problem
  }
}
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <p v-if="error" class="says" role="alert">{{ error.message }}</p>
    <template v-if="file">
      <div class="flex flex-wrap items-baseline gap-4">
        <h1 class="text-3xl font-bold">{{ file.fragrance.name }}</h1>
        <span class="text-quiet">{{ FAMILY_WORDS[file.fragrance.family] }}</span>
        <span v-if="file.fragrance.vanillin !== null" class="text-quiet">
          vanillin {{ percent(file.fragrance.vanillin, 2) }} %
        </span>
        <button type="button" class="key ml-auto" @click="editing = !editing">
          {{ editing ? 'Leave as it was' : 'Edit the claim' }}
        </button>
      </div>
      <p v-if="file.fragrance.note" class="border-l-4 border-stir py-1 pl-3">{{ file.fragrance.note }}</p>
      <FragranceForm
        v-if="editing"
        class="mt-3"
        :fragrance="file.fragrance"
        :refused="refused"
        save="Keep the claim"
        @save="save"
      />

      <section
        class="grid items-start gap-x-8 gap-y-4 pt-6 md:grid-cols-[13rem_minmax(0,1fr)]"
        aria-label="Effect"
      >
        <dl class="grid gap-y-1">
          <div>
            <dt class="note">{{ file.pours.length ? 'Your pours say' : 'The claim says' }}</dt>
            <dd>
              <b class="fig text-5xl" data-test="effect">{{ times(file.learned.mid) }}</b>
              <span class="text-quiet"> as fast</span>
            </dd>
            <dd class="fig" data-test="spread">
              {{ times(file.learned.low) }} to {{ times(file.learned.high) }}
            </dd>
          </div>
        </dl>
        <div>
          <EffectSpan :file="file" />
          <p class="pt-1">
            Claimed: <b>{{ CLAIM_WORDS[file.fragrance.claim] }}</b>
            <template v-if="file.fragrance.claim_words">, “{{ file.fragrance.claim_words }}”</template>; in
            the trade that means {{ times(file.claimed.low) }} to {{ times(file.claimed.high) }} (dashed).
            <template v-if="file.pours.length">
              {{ seen }} pour{{ seen > 1 ? 's' : '' }} took away <b>{{ percent(file.evidence, 0) }} %</b> of
              that doubt.
            </template>
          </p>
          <p class="note">
            At 3 % of fats; the span holds the truth 8 times in 10. Twice as fast halves the minutes.
          </p>
        </div>
      </section>
      <p v-if="file.warning" class="mt-4 border-l-4 border-pot py-1 pl-3">{{ file.warning }}</p>

      <section class="pt-6" aria-labelledby="seen">
        <div class="ledger-head"><h2 id="seen">Seen in your pours</h2></div>
        <p v-if="!file.pours.length" class="py-4">
          Not poured yet. Its forecast is the supplier's claim until it is; leaving one portion unscented
          teaches most.
        </p>
        <table v-else class="w-full text-left">
          <thead class="note">
            <tr>
              <th scope="col" class="py-1 font-normal">recipe</th>
              <th scope="col" class="font-normal">portion</th>
              <th scope="col" class="text-right font-normal">load</th>
              <th scope="col" class="text-right font-normal">at</th>
              <th scope="col" class="pl-8 font-normal">minutes after the scent went in</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in file.pours" :key="p.pour + p.portion" class="row">
              <td class="py-1">
                <RouterLink :to="`/pours/${p.pour}`" class="underline">{{ p.recipe }}</RouterLink>
              </td>
              <td class="max-w-40 truncate">{{ p.portion }}</td>
              <td class="fig text-right">{{ percent(p.load) }} %</td>
              <td class="fig text-right">{{ p.celsius.toFixed(0) }} °C</td>
              <td class="w-1/2 pl-8"><SeenStrip :seen="p" :longest="longest" /></td>
            </tr>
          </tbody>
        </table>
      </section>
    </template>
  </div>
</template>
