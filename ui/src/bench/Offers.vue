<script setup lang="ts">
/** What the recipe could be next time, by what this pour has shown: one tap makes its next version so. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { whileRead } from '../api/queries'
import { useWrite } from '../api/writes'

const props = defineProps<{ pour: string }>()
const asked = useQuery({
  queryKey: computed(() => ['offers', props.pour]),
  queryFn: () => take(api.GET('/api/pours/{pour_id}/offers', { params: { path: { pour_id: props.pour } } })),
  refetchInterval: whileRead,
})
const offers = computed(() => (asked.data.value?.fresh ? asked.data.value.offers : []))
/** What was taken here last, with the recipe it was before. */
const taken = ref<(Schemas['TakenUp'] & { name: string }) | null>(null)

const pull = useWrite(
  (offer: Schemas['Offer']) =>
    take(
      api.POST('/api/pours/{pour_id}/offers', {
        params: { path: { pour_id: props.pour } },
        body: { key: offer.key, revision: asked.data.value?.revision ?? 0 },
      }),
    ),
  {
    done: (answer, offer) => {
      taken.value = { ...answer, name: offer.name }
      return asked.refetch()
    },
    once: true,
  },
)
const back = useWrite(
  (was: Schemas['TakenUp']) =>
    take(
      api.PUT('/api/recipes/{recipe_id}', {
        params: { path: { recipe_id: was.id } },
        body: { recipe: was.before, revision: was.revision },
      }),
    ),
  {
    done: () => {
      taken.value = null
      return asked.refetch()
    },
    once: true,
  },
)
const trouble = computed(() => pull.trouble.value || back.trouble.value)
</script>

<template>
  <div v-if="offers.length || taken" class="pt-2" data-test="offers">
    <p v-if="taken" class="flex flex-wrap items-baseline gap-x-4" role="status">
      <span>
        <b>{{ taken.name }}</b> stands in
        <RouterLink :to="`/recipes/${taken.id}`" class="underline">the recipe</RouterLink>: its next pour is
        so.
      </span>
      <button type="button" class="min-h-6 underline" @click="back.run(taken)">Take it back</button>
    </p>
    <ul class="grid gap-2 pt-1 md:grid-cols-2">
      <li v-for="o in offers" :key="o.key">
        <button
          type="button"
          class="bench-key w-full px-4 text-left whitespace-normal!"
          :disabled="pull.busy.value"
          @click="pull.run(o)"
        >
          <b>Next time {{ o.name }}</b>
          <span class="block text-base font-normal">{{ o.message }}. It costs: {{ o.costs }}.</span>
        </button>
      </li>
    </ul>
    <p v-if="trouble" class="pt-1 text-blush" role="alert">{{ trouble }}</p>
  </div>
</template>
