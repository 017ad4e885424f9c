<script setup lang="ts">
/** A fragrance's file: what was claimed, what was seen, and how sure that makes us. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type NewFragrance, type Schemas } from '../api/client'
import { useShelf, whileRead } from '../api/queries'
import { useWrite } from '../api/writes'
import EffectSpan from '../shelf/EffectSpan.vue'
import {
  CLAIM_WORDS,
  COLOUR_WORDS,
  day,
  FAMILY_WORDS,
  minutes,
  percent,
  RICING_WORDS,
  SHADE_WORDS,
  times,
} from '../support/format'
import { useRouter } from 'vue-router'
import FragranceForm from '../shelf/FragranceForm.vue'
import SeenStrip from '../shelf/SeenStrip.vue'
import { warmth } from '../support/quantity'

const props = defineProps<{ id: string }>()
const router = useRouter()
const { data, error } = useQuery({
  queryKey: computed(() => ['fragrances', props.id]),
  queryFn: () =>
    take(api.GET('/api/fragrances/{fragrance_id}', { params: { path: { fragrance_id: props.id } } })),
  refetchInterval: whileRead,
})
const file = computed(() => data.value?.fragrances[0])
const editing = ref(false)
const photos = computed(() => data.value?.photos ?? [])
const { data: shelf } = useShelf()
const elder = computed(() => shelf.value?.fragrances.find((f) => f.id === file.value?.fragrance.inherits))
const parts = computed(() =>
  (file.value?.fragrance.parts ?? []).map((p) => ({
    ...p,
    name: shelf.value?.fragrances.find((f) => f.id === p.fragrance)?.name ?? p.fragrance,
  })),
)
const fromParts = computed(() => parts.value.length > 0)
const within = computed(() =>
  (shelf.value?.fragrances ?? []).filter((f) => f.parts?.some((p) => p.fragrance === props.id)),
)
const bottle = ref<string | null>(null)
const path = computed(() => ({ path: { fragrance_id: props.id } }))
const bottled = useWrite(
  (name: string) =>
    take(api.POST('/api/fragrances/{fragrance_id}/bottle', { params: path.value, body: { name } })),
  {
    touches: ['fragrances', 'shelf'],
    done: (made) => {
      bottle.value = null
      return router.push(`/shelf/${made.fragrances[0]?.fragrance.id}`)
    },
    once: true,
  },
)
const putInABottle = () => bottled.run(bottle.value?.trim() ?? '')
const said = computed(() => {
  const f = file.value?.fragrance
  if (!f) return ''
  const words = [
    f.ricing === 'unknown' ? '' : RICING_WORDS[f.ricing],
    f.discolours === 'unknown' ? '' : COLOUR_WORDS[f.discolours],
  ].filter(Boolean)
  const by = [f.source, f.stated && day(f.stated)].filter(Boolean).join(', ')
  return words.length ? `${words.join(', ')}${by ? ` (${by})` : ''}` : by
})
/** Colours of one portion of one pour belong on one line. */
const aged = computed(() => {
  const lines: Record<string, Schemas['ColourNote'][]> = {}
  for (const c of file.value?.colours ?? []) (lines[`${c.pour} ${c.portion}`] ??= []).push(c)
  return lines
})
const recipeOf = (pour: string) => file.value?.pours.find((p) => p.pour === pour)?.recipe ?? ''
const age = (days: number) => (days < 1 ? 'at the cut' : days === 1 ? 'after a day' : `after ${days} days`)
const longest = computed(() => Math.max(5, ...(file.value?.pours ?? []).map((p) => p.watched)))
const seen = computed(() => file.value?.poured ?? 0)

const { run: save, faults } = useWrite(
  (fragrance: NewFragrance) =>
    take(api.PUT('/api/fragrances/{fragrance_id}', { params: path.value, body: fragrance })),
  { touches: ['fragrances', 'shelf'], done: () => (editing.value = false) },
)
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <p v-if="error" class="message" role="alert">{{ error.message }}</p>
    <p v-else-if="!file" class="py-6" role="status">Reading the record …</p>
    <template v-if="file">
      <div class="flex flex-wrap items-baseline gap-4">
        <h1 class="text-3xl font-bold">{{ file.fragrance.name }}</h1>
        <span class="text-quiet">{{ FAMILY_WORDS[file.fragrance.family] }}</span>
        <span v-if="file.fragrance.vanillin !== null" class="text-quiet">
          vanillin {{ percent(file.fragrance.vanillin, 2) }} %
        </span>
        <button type="button" class="key ml-auto" @click="editing = !editing">
          {{ editing ? 'Leave as it was' : parts.length ? 'Edit the blend' : 'Edit the claim' }}
        </button>
      </div>
      <p v-if="file.fragrance.note" class="border-l-4 border-stir py-1 pl-3">{{ file.fragrance.note }}</p>
      <div v-if="parts.length" class="flex flex-wrap items-baseline gap-x-4 gap-y-1 pt-1" aria-label="Parts">
        <span>
          {{ file.fragrance.bottled ? 'Mixed ahead from' : 'Weighed from' }}
          <template v-for="(p, i) in parts" :key="p.fragrance"
            ><template v-if="i">, </template
            ><RouterLink :to="`/shelf/${p.fragrance}`" class="underline">{{ p.name }}</RouterLink
            >&nbsp;<b>{{ percent(p.share) }} %</b></template
          >
        </span>
        <template v-if="!file.fragrance.bottled">
          <button
            v-if="bottle === null"
            type="button"
            class="text-sm underline"
            @click="bottle = `${file.fragrance.name}, mixed ahead`"
          >
            mix it ahead in a bottle of its own
          </button>
          <form v-else class="flex flex-wrap items-baseline gap-2" @submit.prevent="putInABottle">
            <input v-model="bottle" class="field w-64" maxlength="80" aria-label="Name of the bottle" />
            <button type="submit" class="key">Save the bottle</button>
            <button type="button" class="text-sm underline" @click="bottle = null">cancel</button>
          </form>
        </template>
        <span v-if="bottled.trouble.value" class="message basis-full" role="alert">{{
          bottled.trouble.value
        }}</span>
      </div>
      <FragranceForm
        v-if="editing"
        class="mt-3"
        :fragrance="file.fragrance"
        :refused="faults"
        :save="parts.length ? 'Save the blend' : 'Save the claim'"
        @save="save"
      />

      <section
        class="grid items-start gap-x-8 gap-y-4 pt-6 md:grid-cols-[13rem_minmax(0,1fr)]"
        aria-label="Effect"
      >
        <dl class="grid gap-y-1">
          <div>
            <dt class="note">
              {{
                file.pours.length
                  ? 'Your pours say'
                  : file.heard
                    ? 'Claim and other makers say'
                    : fromParts
                      ? 'Its parts say'
                      : 'The claim says'
              }}
            </dt>
            <dd>
              <b class="fig text-5xl" data-test="effect">{{ times(file.learned.mid) }}</b>
              <span class="text-quiet"> as soon</span>
            </dd>
            <dd class="fig" data-test="spread">
              {{ times(file.learned.low) }} to {{ times(file.learned.high) }}
            </dd>
            <dd data-test="medium">
              medium trace in <b class="fig">{{ minutes(file.learned.medium) }} min</b>,
              {{ minutes(file.learned.without) }} without it
            </dd>
          </div>
        </dl>
        <div>
          <EffectSpan :file="file" />
          <p class="pt-1">
            <template v-if="fromParts">
              By what is claimed of its parts {{ times(file.claimed.low) }} to
              {{ times(file.claimed.high) }} (dashed).
            </template>
            <template v-else>
              Claimed: <b>{{ CLAIM_WORDS[file.fragrance.claim] }}</b>
              <template v-if="file.fragrance.claim_words">, “{{ file.fragrance.claim_words }}”</template>; in
              the trade that means {{ times(file.claimed.low) }} to {{ times(file.claimed.high) }} (dashed).
            </template>
            <template v-if="file.others">
              <b>Other makers</b> (grey): {{ file.others
              }}<template v-if="!file.heard"> Nobody of them knows how fast.</template>
            </template>
            <template v-if="seen">
              {{ seen }} pour{{ seen > 1 ? 's' : '' }}
              <template v-if="file.evidence > 0">
                took away <b>{{ percent(file.evidence, 0) }} %</b> of that doubt.
              </template>
              <template v-else>came otherwise than claimed: no doubt is gone yet.</template>
            </template>
            <template v-if="file.unseen">
              {{ file.unseen }} more {{ file.unseen > 1 ? 'were' : 'was' }} not looked at after it went in,
              and {{ file.unseen > 1 ? 'say' : 'says' }} nothing of it.
            </template>
          </p>
          <p v-if="said && !fromParts">Also claimed: {{ said }}.</p>
          <p v-if="file.riced.asked || file.discoloured.asked">
            Seen:
            <template v-if="file.riced.asked"
              ><b>{{ file.riced.seen }} of {{ file.riced.asked }}</b> pours riced</template
            ><template v-if="file.riced.asked && file.discoloured.asked">, </template
            ><template v-if="file.discoloured.asked"
              ><b>{{ file.discoloured.seen }} of {{ file.discoloured.asked }}</b> discoloured</template
            >.
          </p>
          <p v-if="parts.length && !elder">
            What is learned of a part is learned of the blend, and the other way round.
          </p>
          <p v-if="within.length">
            In
            <template v-for="(f, i) in within" :key="f.id"
              ><template v-if="i">, </template
              ><RouterLink :to="`/shelf/${f.id}`" class="underline">{{ f.name }}</RouterLink></template
            >: its pours teach of this one too.
          </p>
          <p v-if="elder">
            {{ file.fragrance.bottled ? 'A bottle of the blend' : 'Another bottle of' }}
            <RouterLink :to="`/shelf/${elder.id}`" class="underline">{{ elder.name }}</RouterLink>: what is
            learned of either moves both.
          </p>
          <p v-if="file.kin.length">Other bottles of it: {{ file.kin.join(', ') }}.</p>
          <p class="note">At 3 % of fats, stirred in at emulsion; the span holds the truth 8 times in 10.</p>
        </div>
      </section>
      <p v-if="file.warning" class="mt-4 border-l-4 border-pot py-1 pl-3">{{ file.warning }}</p>

      <section v-if="photos.length || file.colours.length" class="pt-6" aria-labelledby="colour">
        <div class="ledger-head"><h2 id="colour">Colour, as it aged</h2></div>
        <ul v-if="photos.length" class="flex flex-wrap gap-4 pt-3">
          <li v-for="p in photos" :key="p.id" class="w-40">
            <RouterLink :to="`/pours/${p.pour}`">
              <img
                :src="`/api/photos/${p.id}`"
                :alt="`${recipeOf(p.pour)}, ${age(p.days)}${p.note ? `: ${p.note}` : ''}`"
                class="h-28 w-40 rounded object-cover"
                loading="lazy"
              />
            </RouterLink>
            <span class="block text-sm">{{ age(p.days) }}</span>
            <span class="note block truncate">{{ p.note || recipeOf(p.pour) }}</span>
          </li>
        </ul>
        <p v-for="(notes, key) in aged" :key="key" class="row flex flex-wrap items-center gap-x-5 py-1">
          <RouterLink :to="`/pours/${notes[0]?.pour}`" class="w-56 truncate underline"
            >{{ notes[0]?.recipe }}, {{ notes[0]?.portion }}</RouterLink
          >
          <span v-for="c in notes" :key="c.days">
            {{ age(c.days) }} <b>{{ SHADE_WORDS[c.shade] }}</b>
          </span>
        </p>
      </section>

      <section class="pt-6" aria-labelledby="seen">
        <div class="ledger-head">
          <h2 id="seen">Seen in your pours</h2>
          <span v-if="data?.fresh === false" class="note" role="status"
            >the last one is still being learned from</span
          >
        </div>
        <p v-if="!file.pours.length" class="py-4">
          Not poured yet. Its forecast is
          {{
            file.heard
              ? 'what others saw and the claim'
              : fromParts
                ? 'what is known of its parts'
                : "the supplier's claim"
          }}
          until it is; leaving one portion unscented teaches most.
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
              <td class="fig text-right">{{ warmth(p.celsius) }}</td>
              <td class="w-1/2 pl-8"><SeenStrip :seen="p" :longest="longest" /></td>
            </tr>
          </tbody>
        </table>
      </section>
    </template>
  </div>
</template>
