<script setup lang="ts">
/** What would I do? A batter with a hidden temperament, on the same bench. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take, type Schemas } from '../api/client'
import { useRecipeNames } from '../api/queries'
import { useWrite } from '../api/writes'

type Temper = NonNullable<Schemas['StartPractice']['temper']>
const router = useRouter()
const { data: recipes, error: away } = useRecipeNames()
const { data: held } = useQuery({
  queryKey: ['practised'],
  queryFn: () => take(api.GET('/api/practice')),
})
const recipe = ref('')
const temper = ref<Temper | ''>('')
const speed = ref(1)
const TEMPERS: Record<Temper | '', [string, string]> = {
  '': ['Surprise me', 'you find out at the bench'],
  calm: ['Calm', 'it does what was forecast'],
  fast: ['Fast', 'the fragrance runs away with it'],
  slow: ['Slow', 'it will not come'],
  ricing: ['Ricing', 'grains as the scent goes in'],
  rogue: ['One rogue portion', 'faster than its neighbours'],
  warm: ['A warm shed', 'warmer than was thought'],
}
const { run: begin, trouble } = useWrite(
  () =>
    take(
      api.POST('/api/practice', {
        body: { recipe_id: recipe.value, temper: temper.value || null, speed: speed.value, seed: null },
      }),
    ),
  { done: (made) => router.push(`/practice/${made.id}`), once: true },
)
</script>

<template>
  <div class="mx-auto max-w-5xl px-6 py-5 max-sm:px-4">
    <h1 class="text-3xl font-bold">Practice</h1>
    <p class="max-w-2xl pt-1 text-quiet">
      The bench, on a batter that is not there. It has a behaviour you are not told; tap what you see, do what
      you would do. It teaches nothing and leaves no pour.
    </p>
    <form class="grid gap-6 pt-5" @submit.prevent="begin">
      <label class="flex flex-wrap items-baseline gap-3">
        <span class="text-lg font-bold">Pour</span>
        <select v-model="recipe" class="field max-w-full text-lg">
          <option value="">a practice loaf in three colours</option>
          <option v-for="r in recipes?.names ?? []" :key="r.id" :value="r.id">{{ r.name }}</option>
        </select>
      </label>
      <p v-if="away" class="message" role="alert">{{ away.message }}</p>
      <fieldset>
        <legend class="text-lg font-bold">The batter</legend>
        <div class="grid grid-cols-4 gap-2 pt-2 max-md:grid-cols-2" role="radiogroup" aria-label="The batter">
          <button
            v-for="([name, under], key) in TEMPERS"
            :key="key"
            type="button"
            role="radio"
            class="sheet px-4 py-3 text-left"
            :class="temper === key ? 'outline-3 outline-ink' : ''"
            :aria-checked="temper === key"
            @click="temper = key"
          >
            <span class="block font-bold">{{ name }}</span><span class="note">{{ under }}</span>
          </button>
        </div>
      </fieldset>
      <div class="flex flex-wrap items-center gap-4">
        <span class="text-lg font-bold">Clock</span>
        <label v-for="times in [1, 10]" :key="times" class="flex items-center gap-2">
          <input v-model="speed" type="radio" name="speed" :value="times" />
          {{ times === 1 ? 'as it is' : 'ten times as fast' }}
        </label>
      </div>
      <p v-if="trouble" class="message" role="alert">{{ trouble }}</p>
      <button type="submit" class="key key-main w-fit px-8 py-3 text-lg">Lye meets fats</button>
    </form>
    <section v-if="held?.practices.length" class="pt-8" aria-labelledby="held">
      <div class="ledger-head"><h2 id="held">Practised since the app was started</h2></div>
      <ul>
        <li v-for="p in held.practices" :key="p.id" class="row py-2">
          <RouterLink :to="`/practice/${p.id}`" class="hover:underline"
            ><b>{{ p.recipe }}</b
            ><span class="note pl-3">{{
              p.ended ? `${p.temper} Its debrief` : 'still running'
            }}</span></RouterLink
          >
        </li>
      </ul>
    </section>
  </div>
</template>
