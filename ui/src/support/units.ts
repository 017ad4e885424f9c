/** The units this workshop reads. They are set once; what was known last serves while the server cannot be asked. */
import { reactive } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { recall, remember, soon } from './known'

export type Units = Schemas['Units']
const KEPT = 'round-stone-units'
export const units = reactive<Units>({ weight: 'g', warmth: 'C', length: 'cm', volume: 'mL', money: '' })

export function readIn(now: Units) {
  Object.assign(units, now)
  remember(KEPT, now)
}

export const askUnits = () => take(api.GET('/api/settings/units')).then(readIn)

/** Asks the workshop once for the page; another tab that changes them is followed. */
export async function startUnits() {
  Object.assign(units, recall<Units>(KEPT) ?? {})
  addEventListener('storage', (e) => e.key === KEPT && Object.assign(units, recall<Units>(KEPT) ?? {}))
  await soon(askUnits())
}
