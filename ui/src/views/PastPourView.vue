<script setup lang="ts">
/** A pour from a notebook: whatever was written down, with gaps. It teaches like one tapped at the bench. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, fault, take, type PourEvent } from '../api/client'
import { useQuery } from '@tanstack/vue-query'
import { useRecipeNames } from '../api/queries'
import { useWrite } from '../api/writes'
import EventRow from '../bench/EventRow.vue'
import { eventOf, type Row } from '../bench/events'

const router = useRouter()
const { data: recipes, error } = useRecipeNames()
const recipe = ref('')
const when = ref(new Date().toLocaleDateString('sv'))
const blank = (minute = '', what = 'emulsion'): Row => ({ minute, what, portion: '', value: '' })
const rows = ref<Row[]>([blank(), blank('', 'scent'), blank('', 'medium')])

const { data: chosen } = useQuery({
  queryKey: ['recipe', recipe],
  queryFn: () => take(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: recipe.value } } })),
  enabled: computed(() => recipe.value !== ''),
})
const portions = computed(() => chosen.value?.recipe.design.portions.map((p) => p.name) ?? [])

/** Which row of those written each event sent is from. */
const from = ref<number[]>([])
const unread = ref<Record<number, string>>({})
const past = useWrite(
  (events: PourEvent[], sure: boolean) =>
    take(
      api.POST('/api/pours/past', {
        body: {
          recipe_id: recipe.value,
          started: new Date(`${when.value}T12:00:00`).toISOString(),
          events,
          sure,
        },
      }),
    ),
  {
    touches: ['pours', 'recipes', 'fragrances', 'learning'],
    done: (made) => router.push(`/pours/${made.id}`),
    once: true,
  },
)
const rowOf = (pointer: string) => from.value[Number(/^\/events\/(\d+)/.exec(pointer)?.[1] ?? NaN)]
const message = computed<Record<number, string>>(() => ({
  ...unread.value,
  ...Object.fromEntries(
    past.faults.value.flatMap((f) => {
      const row = rowOf(f.pointer)
      return row === undefined ? [] : [[row, f.message]]
    }),
  ),
}))
const refused = computed(() => past.faults.value.filter((f) => rowOf(f.pointer) === undefined))
/** What the forecast hardly gives is asked once; then it is taken as it was written. */
const { asks, busy: saving } = past

function save(sure = false) {
  const events: PourEvent[] = []
  unread.value = {}
  from.value = []
  rows.value.forEach((row, i) => {
    if (row.minute.trim() === '' && row.value.trim() === '') return
    const event = eventOf(row)
    if (typeof event === 'string') unread.value[i] = event
    else {
      events.push(event)
      from.value.push(i)
    }
  })
  const wrong = []
  const readable = !Object.keys(unread.value).length
  if (!recipe.value) wrong.push(fault('/recipe_id', 'Choose the recipe that was poured.'))
  else if (!events.length && readable)
    wrong.push(fault('', 'Write down at least one thing that was seen, with its minute.'))
  if (!past.refuse(wrong) && readable) void past.run(events, sure)
}
</script>

<template>
  <div class="mx-auto max-w-4xl px-6 py-5 max-sm:px-4">
    <h1 class="text-3xl font-bold">From a notebook</h1>
    <p class="pt-1 text-quiet">
      Write down what you know, with its minute after lye met fats. A stage that was never noted is left open;
      a split or a fragrance that was never noted counts as gone as planned.
    </p>
    <form class="pt-4" @submit.prevent="save()">
      <p v-if="error" class="message pb-3" role="alert">{{ error.message }}</p>
      <p v-if="recipes && !recipes.names.length" class="pb-3 font-semibold">
        The recipe it was made from comes first: <RouterLink to="/" class="underline">make it</RouterLink>.
      </p>
      <div class="flex flex-wrap gap-x-8 gap-y-2">
        <label class="flex min-w-64 flex-col">
          <span class="note">recipe, as it stands now</span>
          <select v-model="recipe" class="field text-lg">
            <option value="">choose …</option>
            <option v-for="r in recipes?.names ?? []" :key="r.id" :value="r.id">{{ r.name }}</option>
          </select>
        </label>
        <label class="flex flex-col">
          <span class="note">poured on</span>
          <input v-model="when" class="field" type="date" required />
        </label>
      </div>
      <ol class="mt-4 border-t-3 border-ink">
        <li v-for="(_, i) in rows" :key="i" class="row flex items-baseline gap-2 py-1">
          <EventRow v-model="rows[i] as Row" :portions="portions" :message="message[i]" />
          <button
            type="button"
            class="take-out ml-auto"
            :aria-label="`Take out line ${i + 1}`"
            @click="rows.splice(i, 1)"
          >
            ×
          </button>
        </li>
      </ol>
      <button type="button" class="min-h-6 pt-1 text-sm underline" @click="rows.push(blank('', 'light'))">
        Another line
      </button>
      <p v-for="f in refused" :key="f.message" class="message pt-2" role="alert">{{ f.message }}</p>
      <p class="flex gap-3 pt-4">
        <button type="submit" class="key key-main" :disabled="saving">Learn from it</button>
        <button v-if="asks" type="button" class="key" :disabled="saving" @click="save(true)">
          It is so: learn from it as written
        </button>
        <RouterLink to="/pours" class="key">Cancel</RouterLink>
      </p>
    </form>
  </div>
</template>
