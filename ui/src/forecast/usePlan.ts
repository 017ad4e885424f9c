/** What a recipe's plan could be: other techniques, levers, fall-backs; slower than the forecast, so it comes after it. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take, type Recipe } from '../api/client'
import type { useDraft } from '../ledger/useDraft'

export function usePlan(draft: ReturnType<typeof useDraft>) {
  return useQuery({
    queryKey: ['plan', draft.id, draft.recipe],
    queryFn: ({ signal }) =>
      take(api.POST('/api/plan', { body: { recipe: draft.recipe.value as Recipe, seed: draft.id }, signal })),
    enabled: computed(() => draft.sheet.value !== null && draft.current.value),
    placeholderData: (before) => before,
    gcTime: 10_000,
  })
}
