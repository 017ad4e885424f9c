/** The units this workshop reads. They are set once; what was known last serves while the server cannot be asked. */
import { reactive } from 'vue'
import { api, take, type Schemas } from '../api/client'

export type Units = Schemas['Units']
const KEPT = 'round-stone-units'
const METRIC: Units = { weight: 'g', warmth: 'C', length: 'cm', volume: 'mL' }
export const units = reactive<Units>({ ...METRIC })

export function readIn(now: Units) {
  Object.assign(units, now)
  try {
    localStorage.setItem(KEPT, JSON.stringify(now))
  } catch {
    // Nowhere to keep it: it is asked again.
  }
}

function recall(text: string | null) {
  try {
    if (text) Object.assign(units, METRIC, JSON.parse(text) as Units)
  } catch {
    // Not what was kept here.
  }
}

/** Asks the workshop, but no longer than a page may wait. */
export async function startUnits(wait = 2000) {
  try {
    recall(localStorage.getItem(KEPT))
    addEventListener('storage', (e) => e.key === KEPT && recall(e.newValue))
  } catch {
    // No storage here.
  }
  const asked = take(api.GET('/api/settings/units'))
    .then(readIn)
    .catch(() => {})
  await Promise.race([asked, new Promise((done) => setTimeout(done, wait))])
}
