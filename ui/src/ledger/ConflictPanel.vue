<script setup lang="ts">
/** Another window saved this recipe too: both side by side, and which one stays. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '../api/client'
import { injectDraft } from './useDraft'
import { percent } from '../support/format'

const draft = injectDraft()
const open = ref(false)
const mine = computed(() => draft.recipe.value)
const theirs = computed(() => draft.theirs.value?.recipe)
const { data, error } = useQuery({
  queryKey: ['conflict', draft.id, mine, theirs],
  queryFn: () =>
    take(
      api.POST('/api/compare', {
        body: {
          left: { recipe_id: draft.id, version: null, recipe: mine.value ?? null },
          right: { recipe_id: draft.id, version: null, recipe: theirs.value ?? null },
        },
      }),
    ),
  enabled: computed(() => open.value && !!mine.value && !!theirs.value),
  retry: false,
})
const rows = computed(() => [
  ...(data.value?.comparison.lines ?? [])
    .filter((l) => l.differs)
    .map((l) => ({ name: l.name, left: share(l.left_share), right: share(l.right_share) })),
  ...(data.value?.comparison.settings ?? []).filter((s) => s.differs),
])
const share = (value: number | null) => (value === null ? '—' : `${percent(value, 2)} % of fats`)
</script>

<template>
  <section class="mt-2 border-l-4 border-ink bg-chalk px-5 py-3" role="alert" aria-label="Two versions">
    <p class="font-semibold">Another window or device saved this recipe too. Which one stays?</p>
    <p class="flex flex-wrap gap-3 pt-2">
      <button type="button" class="key key-main" @click="draft.keepMine">Keep mine</button>
      <button type="button" class="key" @click="draft.keepTheirs">Keep theirs</button>
      <button type="button" class="key" :aria-expanded="open" @click="open = !open">Side by side</button>
      <span class="note self-center">The other one stays within reach of Undo.</span>
    </p>
    <p v-if="open && error" class="message pt-2">{{ error.message }}</p>
    <table v-if="open && data" class="mt-2 w-full max-w-3xl text-left text-sm">
      <thead class="note">
        <tr>
          <th class="font-normal">what differs</th>
          <th class="font-normal">mine</th>
          <th class="font-normal">theirs</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name" class="row">
          <th scope="row" class="font-medium">{{ row.name }}</th>
          <td class="fig">{{ row.left }}</td>
          <td class="fig">{{ row.right }}</td>
        </tr>
        <tr v-if="!rows.length">
          <td colspan="3" class="note">Nothing that is weighed or set; a name or a note, then.</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
