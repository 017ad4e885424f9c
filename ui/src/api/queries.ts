import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { api, orSoon, take } from './client'

/** How soon what was learned is asked for again: soon while the log is still being read, else not by itself. */
export const whileRead = (query: { state: { data?: { fresh?: boolean }; error: Error | null } }) =>
  query.state.data?.fresh === false ? 2000 : orSoon(false)(query)

/** Fats, liquids, additives, techniques and fragrances. */
export function useShelf() {
  return useQuery({
    queryKey: ['shelf'],
    queryFn: () => take(api.GET('/api/shelf')),
    staleTime: 60_000,
  })
}

export const PAGE = 50

/** One page of recipes in which every word is found, and how many there are. */
export function useRecipes(find: Ref<string>, first: Ref<number>) {
  return useQuery({
    queryKey: ['recipes', find, first],
    queryFn: () =>
      take(
        api.GET('/api/recipes', { params: { query: { find: find.value, first: first.value, most: PAGE } } }),
      ),
    placeholderData: keepPreviousData,
  })
}

/** Every recipe by name, to choose from. */
export function useRecipeNames() {
  return useQuery({ queryKey: ['recipes', 'names'], queryFn: () => take(api.GET('/api/recipes/names')) })
}

export function useFragranceFiles() {
  return useQuery({
    queryKey: ['fragrances'],
    queryFn: () => take(api.GET('/api/fragrances')),
    refetchInterval: whileRead,
  })
}

/** Ingredients of the maker's own. */
export function useOwn() {
  return useQuery({ queryKey: ['own'], queryFn: () => take(api.GET('/api/custom')) })
}

/** Lots with what is left of them. */
export function useStock() {
  return useQuery({ queryKey: ['stock'], queryFn: () => take(api.GET('/api/stock')), staleTime: 0 })
}

export type Only = '' | 'waits' | 'drawn' | 'different' | 'lost'

/** One page of batches, of all or only those that wait for something or came out so. */
export function usePours(find: Ref<string>, first: Ref<number>, only: Ref<Only>) {
  return useQuery({
    queryKey: ['pours', find, first, only],
    queryFn: () =>
      take(
        api.GET('/api/pours', {
          params: { query: { find: find.value, first: first.value, most: PAGE, only: only.value } },
        }),
      ),
    placeholderData: keepPreviousData,
  })
}

/** Forget everything learned or listed: after a pour ended, a claim changed, a recipe came or went. */
export function useRefresh() {
  const client = useQueryClient()
  return (...keys: string[]) =>
    Promise.all(keys.map((key) => client.invalidateQueries({ queryKey: [key], exact: false })))
}
