/** Where and when things go in, in the words of the ledgers. */
import type { Recipe, Schemas } from '../api/client'
import { warmth } from '../support/quantity'

export type Vessel = Schemas['Line']['vessel']
export type Moment = Schemas['Additive']['moment']
export type Dose = Recipe['additives'][number]

export const MOMENTS: Record<Moment, string> = {
  fats: 'in the fats',
  'before-lye': 'in the liquid, before the lye',
  'hot-lye': 'in the hot lye',
  get 'cool-lye'() {
    return `in the lye below ${warmth(43)}`
  },
  trace: 'at emulsion',
}
export const VESSELS: Vessel[] = ['pot', 'jug', 'stir']
export const VESSEL_NAMES: Record<Vessel, string> = { pot: 'fat pot', jug: 'lye jug', stir: 'stir-ins' }
const OF: Record<Moment, Vessel> = {
  fats: 'pot',
  'before-lye': 'jug',
  'hot-lye': 'jug',
  'cool-lye': 'jug',
  trace: 'stir',
}

export function vesselOf(moment: Moment): Vessel {
  return OF[moment]
}
