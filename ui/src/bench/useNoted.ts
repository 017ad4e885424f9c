/** Notes of earlier pours, so that each is met at the step it is about. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take, type PourView } from '../api/client'

export function useNoted(view: Ref<PourView | null | undefined>, practice: boolean) {
  const recipe = computed(() => view.value?.recipe_id ?? '')
  const { data } = useQuery({
    queryKey: ['recipe', recipe, 'noted'],
    queryFn: () =>
      take(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: recipe.value } } })),
    enabled: computed(() => !practice && !!recipe.value && view.value?.ended === null),
    staleTime: Infinity,
  })
  const notes = computed(() => data.value?.noted ?? [])
  return {
    /** What was noted of what goes in with the scent. */
    scent: computed(() => notes.value.filter((n) => n.about.startsWith('fragrance:')).map((n) => n.message)),
    /** What was noted of the step in hand, the latest first. */
    step: computed(() => {
      const about = view.value?.bench.about ?? []
      return notes.value.filter((n) => about.includes(n.about)).map((n) => `${n.of}: ${n.message}`)
    }),
  }
}
