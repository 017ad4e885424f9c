import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, take } from './client'

/** Fats, liquids, additives, techniques and fragrances. */
export function useShelf() {
  return useQuery({
    queryKey: ['shelf'],
    queryFn: () => take(api.GET('/api/shelf')),
    staleTime: 60_000,
  })
}

export function useRecipes() {
  return useQuery({ queryKey: ['recipes'], queryFn: () => take(api.GET('/api/recipes')) })
}

export function useFragranceFiles() {
  return useQuery({ queryKey: ['fragrances'], queryFn: () => take(api.GET('/api/fragrances')) })
}

/** Ingredients of the maker's own. */
export function useOwn() {
  return useQuery({ queryKey: ['own'], queryFn: () => take(api.GET('/api/own')) })
}

/** Lots with what is left of them. */
export function useStock() {
  return useQuery({ queryKey: ['stock'], queryFn: () => take(api.GET('/api/stock')), staleTime: 0 })
}

export function usePours() {
  return useQuery({ queryKey: ['pours'], queryFn: () => take(api.GET('/api/pours')) })
}

/** Forget everything learned or listed: after a pour ended, a claim changed, a recipe came or went. */
export function useRefresh() {
  const client = useQueryClient()
  return (...keys: string[]) =>
    Promise.all(keys.map((key) => client.invalidateQueries({ queryKey: [key], exact: false })))
}
