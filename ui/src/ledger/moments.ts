/** Where and when things go in, in the words of the ledgers. The moments themselves stand on the shelf. */
import { computed } from 'vue'
import type { Recipe, Schemas } from '../api/client'
import { useShelf } from '../api/queries'

export type Vessel = Schemas['Line']['vessel']
export type Moment = Schemas['Additive']['moment']
export type Dose = Recipe['additives'][number]

export const VESSELS: Vessel[] = ['pot', 'jug', 'stir']
export const VESSEL_NAMES: Record<Vessel, string> = {
  pot: 'fat pot',
  jug: 'lye jug',
  stir: 'fragrance and colour',
}

export function useMoments() {
  const { data: shelf } = useShelf()
  const all = computed(() => shelf.value?.moments ?? [])
  return {
    words: computed(
      () => Object.fromEntries(all.value.map((m) => [m.moment, m.words])) as Record<Moment, string>,
    ),
    vesselOf: (moment: Moment) => all.value.find((m) => m.moment === moment)?.vessel,
  }
}
