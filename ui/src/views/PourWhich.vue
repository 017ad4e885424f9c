<script setup lang="ts">
/** What a device of the bench begins with: pours that run, and a recipe to make ready. */
import { computed, ref } from 'vue'
import { useRecipes } from '../api/queries'
import CutFace from '../support/CutFace.vue'
import Pager from '../support/Pager.vue'

const query = ref('')
const first = ref(0)
const { data, error } = useRecipes(query, first)
const recipes = computed(() => data.value?.recipes ?? [])
</script>

<template>
  <div class="mx-auto max-w-3xl px-6 py-6 max-sm:px-4">
    <h1 class="text-3xl font-bold">What is poured?</h1>
    <p v-if="error" class="message pt-2" role="alert">{{ error.message }}</p>
    <ul v-if="data?.running.length" class="pt-3" aria-label="Running now">
      <li v-for="p in data.running" :key="p.id" class="pb-2">
        <RouterLink :to="`/pours/${p.id}`" class="key key-main w-full min-h-14! whitespace-normal! text-lg"
          >{{ p.name }} is being poured: back to it</RouterLink
        >
      </li>
    </ul>
    <input
      v-model="query"
      type="search"
      class="field mt-2 w-full text-lg"
      placeholder="Find a recipe"
      aria-label="Find a recipe"
    />
    <ul class="pt-2" aria-label="Recipes">
      <li v-for="r in recipes" :key="r.id" class="row">
        <RouterLink :to="`/recipes/${r.id}/ready`" class="flex min-h-16 items-center gap-4 py-2 text-lg">
          <CutFace :code="r.face" :width="56" />
          <b>{{ r.name }}</b>
        </RouterLink>
      </li>
    </ul>
    <Pager v-if="data" v-model="first" :total="data.total" />
  </div>
</template>
