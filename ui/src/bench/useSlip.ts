/** A pour begun by a slip: nothing was tapped of it yet, so the whole of it can be taken back; what stood ready stands so still. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '../api/client'
import { useRefresh } from '../api/queries'
import type { usePour } from './usePour'

export function useSlip(id: string, practice: boolean, pour: ReturnType<typeof usePour>) {
  const router = useRouter()
  const refresh = useRefresh()
  const slip = computed(
    () =>
      !practice &&
      !pour.offline.value &&
      pour.view.value !== null &&
      !pour.view.value.events.length &&
      !pour.waiting.value.length,
  )
  async function withdraw() {
    const recipe = pour.view.value?.recipe_id
    try {
      await take(api.DELETE('/api/pours/{pour_id}', { params: { path: { pour_id: id } } }))
    } catch {
      return pour.look() // another device tapped meanwhile, or nothing answers: what stands there is shown
    }
    await refresh('pours', 'recipes', 'stock')
    await router.push(`/recipes/${recipe}/ready`)
  }
  return { slip, withdraw }
}
