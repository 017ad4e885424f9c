/** A pour begun by a slip: nothing was tapped of it yet, so the whole of it can be taken back; what stood ready stands so still. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '../api/client'
import { useWrite } from '../api/writes'
import type { usePour } from './usePour'

export function useSlip(id: string, practice: boolean, pour: ReturnType<typeof usePour>) {
  const router = useRouter()
  const slip = computed(
    () =>
      !practice &&
      !pour.offline.value &&
      pour.view.value !== null &&
      !pour.view.value.events.length &&
      !pour.waiting.value.length,
  )
  let recipe = ''
  const taken = useWrite(
    () => take(api.DELETE('/api/pours/{pour_id}', { params: { path: { pour_id: id } } })),
    {
      touches: ['pours', 'recipes', 'stock'],
      done: () => router.push(`/recipes/${recipe}/ready`),
      once: true,
    },
  )
  async function withdraw() {
    // Another device tapped meanwhile, or nothing answers: what stands there is shown.
    recipe = pour.view.value?.recipe_id ?? ''
    if (!(await taken.run())) await pour.look()
  }
  return { slip, withdraw }
}
