<script setup lang="ts">
/** A pour from a notebook: whatever was written down, with gaps. It teaches like one tapped at the bench. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, fault, Refused, take, type Fault, type PourEvent } from '../api/client'
import { useQuery } from '@tanstack/vue-query'
import { useRecipeNames, useRefresh } from '../api/queries'
import EventRow from '../bench/EventRow.vue'
import { eventOf, type Row } from '../bench/events'

const router = useRouter()
const refresh = useRefresh()
const { data: recipes, error } = useRecipeNames()
const recipe = ref('')
const when = ref(new Date().toLocaleDateString('sv'))
const blank = (minute = '', what = 'emulsion'): Row => ({ minute, what, portion: '', value: '' })
const rows = ref<Row[]>([blank(), blank('', 'scent'), blank('', 'medium')])
const message = ref<Record<number, string>>({})
const refused = ref<Fault[]>([])
const saving = ref(false)

const { data: chosen } = useQuery({
  queryKey: ['recipe', recipe],
  queryFn: () => take(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: recipe.value } } })),
  enabled: computed(() => recipe.value !== ''),
})
const portions = computed(() => chosen.value?.recipe.design.portions.map((p) => p.name) ?? [])

/** What the forecast hardly gives is asked once; then it is taken as it was written. */
const asked = ref(false)

async function save(sure = false) {
  asked.value = false
  message.value = {}
  refused.value = []
  const events: PourEvent[] = []
  const from: number[] = []
  rows.value.forEach((row, i) => {
    if (row.minute.trim() === '' && row.value.trim() === '') return
    const event = eventOf(row)
    if (typeof event === 'string') message.value[i] = event
    else {
      events.push(event)
      from.push(i)
    }
  })
  if (!recipe.value) refused.value = [fault('/recipe_id', 'Choose the recipe that was poured.')]
  else if (!events.length && !Object.keys(message.value).length)
    refused.value = [fault('', 'Write down at least one thing that was seen, with its minute.')]
  if (refused.value.length || Object.keys(message.value).length) return
  saving.value = true
  try {
    const made = await take(
      api.POST('/api/pours/past', {
        body: {
          recipe_id: recipe.value,
          started: new Date(`${when.value}T12:00:00`).toISOString(),
          events,
          sure,
        },
      }),
    )
    await refresh('pours', 'recipes', 'fragrances', 'learning')
    await router.push(`/pours/${made.id}`)
  } catch (problem) {
    if (!(problem instanceof Refused)) throw problem
    for (const fault of problem.problem.errors) {
      const row = from[Number(/^\/events\/(\d+)/.exec(fault.pointer)?.[1] ?? NaN)]
      if (row !== undefined) message.value[row] = fault.message
      else refused.value.push(fault)
    }
    asked.value = problem.problem.sure
    if (!problem.problem.errors.length) refused.value = [fault('', problem.message)]
  } finally {
    saving.value = false
  }
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
        <button v-if="asked" type="button" class="key" :disabled="saving" @click="save(true)">
          It is so: learn from it as written
        </button>
        <RouterLink to="/pours" class="key">Not now</RouterLink>
      </p>
    </form>
  </div>
</template>
