/** In practice: what the eye would see of each portion, looked at once a second. */
import { useIntervalFn } from '@vueuse/core'
import { shallowRef, watch, type Ref } from 'vue'
import { api, take, type PourView, type Schemas } from '../api/client'

const EVERY = 1000 // ms

export function useSights(id: string, practice: boolean, running: Ref<boolean>, view: Ref<PourView | null>) {
  const sights = shallowRef<Schemas['Sights'] | null>(null)
  if (!practice) return sights
  async function look() {
    if (!running.value) return
    try {
      sights.value = await take(
        api.GET('/api/practice/{practice_id}/sights', { params: { path: { practice_id: id } } }),
      )
    } catch {
      sights.value = null
    }
  }
  useIntervalFn(look, EVERY)
  watch(() => view.value?.events.length, look)
  return sights
}
