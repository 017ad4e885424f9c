/** Moments at which a colour is looked at, in order, and their words. */
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useShelf } from '../api/queries'

export type SwatchAt = Schemas['SwatchSeen']['at']

export function useSwatchMoments() {
  const { data: shelf } = useShelf()
  return computed(() =>
    Object.entries(shelf.value?.swatches ?? {}).map(([at, words]) => ({ at: at as SwatchAt, words })),
  )
}
