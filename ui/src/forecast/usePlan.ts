/** What a recipe's plan could be: other techniques, levers, fall-backs; slower than the forecast, so it comes after it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, onScopeDispose, shallowRef, watch } from 'vue'
import { api, take, type Recipe } from '../api/client'
import type { useDraft } from '../ledger/useDraft'

const QUIET = 400 // ms without an edit before it is asked for

export function usePlan(draft: ReturnType<typeof useDraft>) {
  const settled = shallowRef(draft.recipe.value)
  let timer = 0
  watch(draft.recipe, (recipe) => {
    clearTimeout(timer)
    timer = window.setTimeout(() => (settled.value = recipe), QUIET)
  })
  onScopeDispose(() => clearTimeout(timer))
  return useQuery({
    queryKey: ['plan', draft.id, settled],
    queryFn: ({ signal }) =>
      take(api.POST('/api/plan', { body: { recipe: settled.value as Recipe, seed: draft.id }, signal })),
    // What stood a moment ago is not asked for again beside the forecast of what stands now.
    enabled: computed(
      () => settled.value === draft.recipe.value && draft.sheet.value !== null && draft.current.value,
    ),
    placeholderData: (before) => before,
    gcTime: 10_000,
  })
}
