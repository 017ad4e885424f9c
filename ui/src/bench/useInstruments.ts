/** Which instruments can be read: asked once for the app. */
import { reactive } from 'vue'
import { api, take } from '../api/client'

const known = reactive({ thermometer: false, scale: false })
let asked = false

export function useInstruments() {
  if (!asked) {
    asked = true
    take(api.GET('/api/instruments'))
      .then((found) => Object.assign(known, found))
      .catch(() => (asked = false))
  }
  return known
}

/** Ask again: they were connected or put away. */
export const forgetInstruments = () => (asked = false)
