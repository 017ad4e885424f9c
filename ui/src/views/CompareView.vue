<script setup lang="ts">
/** Two versions or recipes side by side: what differs, and how each would move. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '../api/client'
import { useRecipeNames } from '../api/queries'
import { day, percent } from '../support/format'
import { VESSEL_NAMES, type Vessel } from '../ledger/moments'
import TraceRibbon from '../ribbon/TraceRibbon.vue'
import { weight as told } from '../support/quantity'

const props = defineProps<{ id: string }>()
const { data: recipes, error: away } = useRecipeNames()
const { data: versions, error: missing } = useQuery({
  queryKey: ['versions', props.id],
  queryFn: () =>
    take(api.GET('/api/recipes/{recipe_id}/versions', { params: { path: { recipe_id: props.id } } })),
})
const picked = ref<string[]>([])
const all = ref(false)
const sides = computed(() => {
  const numbers = (versions.value?.versions ?? []).map((v) => `${props.id} ${v.number}`)
  const other = recipes.value?.names.find((r) => r.id !== props.id)?.id
  const usual = [numbers[1] ?? numbers[0] ?? (other ? `${other} ` : `${props.id} `), `${props.id} `]
  return [picked.value[0] ?? usual[0], picked.value[1] ?? usual[1]] as [string, string]
})
const options = computed(() => [
  ...(recipes.value?.names ?? [])
    .filter((r) => r.id === props.id)
    .map((r) => ({ key: `${r.id} `, name: `${r.name}, as it stands` })),
  ...(versions.value?.versions ?? []).map((v) => ({
    key: `${props.id} ${v.number}`,
    name: `version ${v.number}, poured first ${day(v.made)}`,
  })),
  ...(recipes.value?.names ?? [])
    .filter((r) => r.id !== props.id)
    .map((r) => ({ key: `${r.id} `, name: r.name })),
])
function reference(key: string) {
  const [recipe_id = '', version] = key.split(' ')
  return { recipe_id, version: version ? Number(version) : null, recipe: null }
}
const { data, error } = useQuery({
  queryKey: ['compare', sides],
  queryFn: () =>
    take(
      api.POST('/api/compare', {
        body: { left: reference(sides.value[0]), right: reference(sides.value[1]) },
      }),
    ),
  enabled: computed(() => !!recipes.value && !!versions.value),
  staleTime: 0,
  retry: false,
})
const lines = computed(() => (data.value?.comparison.lines ?? []).filter((l) => all.value || l.differs))
const settings = computed(() => (data.value?.comparison.settings ?? []).filter((s) => all.value || s.differs))
const cell = (weight: number | null | undefined, share: number | null | undefined) =>
  weight == null ? '—' : `${told(weight)} · ${percent(share ?? 0, 2)} %`
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-baseline gap-4">
      <h1 class="text-3xl font-bold">Side by side</h1>
      <label class="flex items-center gap-1.5">
        <input v-model="all" type="checkbox" class="size-4 accent-ink" /> also what is the same
      </label>
      <RouterLink :to="`/recipes/${id}`" class="key ml-auto">Back to the recipe</RouterLink>
    </div>
    <p v-if="error ?? missing ?? away" class="message pt-3" role="alert">
      {{ (error ?? missing ?? away)?.message }}
    </p>
    <table class="mt-3 w-full table-fixed text-left">
      <thead>
        <tr class="border-b-3 border-ink">
          <th class="w-1/4"><span class="sr-only">What</span></th>
          <th v-for="(side, n) in sides" :key="n" class="pb-1 font-normal">
            <select
              class="field w-full text-lg font-bold"
              :aria-label="n ? 'Right side' : 'Left side'"
              :value="side"
              @change="
                picked = n
                  ? [sides[0], ($event.target as HTMLSelectElement).value]
                  : [($event.target as HTMLSelectElement).value, sides[1]]
              "
            >
              <option v-for="o in options" :key="o.key" :value="o.key">{{ o.name }}</option>
            </select>
          </th>
        </tr>
      </thead>
      <tbody v-if="data">
        <tr v-if="!lines.length && !settings.length">
          <td colspan="3" class="py-4 text-lg">Nothing differs.</td>
        </tr>
        <tr v-for="s in settings" :key="s.name" class="row h-9">
          <th scope="row" class="font-normal text-quiet">{{ s.name }}</th>
          <td class="pr-3" :class="s.differs ? 'font-semibold' : 'text-quiet'">{{ s.left }}</td>
          <td :class="s.differs ? 'font-semibold' : 'text-quiet'">{{ s.right }}</td>
        </tr>
        <tr v-for="l in lines" :key="l.vessel + l.name" class="row h-9">
          <th scope="row" class="font-normal">
            {{ l.name }} <span class="note">{{ VESSEL_NAMES[l.vessel as Vessel] }}</span>
          </th>
          <td class="fig" :class="l.differs ? 'font-semibold' : 'text-quiet'">
            {{ cell(l.left, l.left_share) }}
          </td>
          <td class="fig" :class="l.differs ? 'font-semibold' : 'text-quiet'">
            {{ cell(l.right, l.right_share) }}
          </td>
        </tr>
      </tbody>
    </table>
    <div v-if="data" class="pt-5">
      <h2 class="pb-1 font-bold">{{ data.left }}</h2>
      <TraceRibbon :forecast="data.left_forecast" :lane="34" :steps="false" quiet />
      <h2 class="pt-4 pb-1 font-bold">{{ data.right }}</h2>
      <TraceRibbon :forecast="data.right_forecast" :lane="34" :steps="false" quiet />
    </div>
  </div>
</template>
