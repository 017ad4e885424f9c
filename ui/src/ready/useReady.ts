/** The ready check of a recipe: one state for every device that looks at it, changed one act at a time. */
import { useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, Refused, take, type Fault, type Schemas } from '../api/client'

export type ReadyAct = Schemas['ReadyTap']['act']
const LOOK_EVERY = 8000 // ms, so that another device's ticks are seen
const TICK = 500 // ms

export function useReady(id: string, day: number) {
  const client = useQueryClient()
  const params = { path: { recipe_id: id }, query: { day } }
  const view = ref<Schemas['ReadyView'] | null>(null)
  const message = ref('')
  const faults = ref<Fault[]>([])
  const anchor = ref({ minute: 0, run: performance.now() })
  const tick = ref(performance.now())
  const minute = computed(() => anchor.value.minute + (tick.value - anchor.value.run) / 60000)

  function show(next: Schemas['ReadyView']) {
    view.value = next
    anchor.value = { minute: next.minute, run: performance.now() }
    tick.value = performance.now()
    message.value = ''
  }
  function failed(error: unknown) {
    if (error instanceof Refused && error.problem.errors.length) faults.value = error.problem.errors
    else message.value = `${(error as Error).message} What you tapped last is not kept: tap it again.`
  }
  async function look() {
    try {
      show(await take(api.GET('/api/recipes/{recipe_id}/ready', { params })))
    } catch (error) {
      if (view.value) return
      if (error instanceof Refused) failed(error)
      else message.value = (error as Error).message
    }
  }
  let going = 0 // acts on their way; a look that came between them would show an older state
  async function act(what: ReadyAct): Promise<boolean> {
    faults.value = []
    going++
    try {
      const next = await take(api.POST('/api/recipes/{recipe_id}/ready', { params, body: { act: what } }))
      if (going === 1) show(next)
      return true
    } catch (error) {
      failed(error)
      return false
    } finally {
      going--
    }
  }
  /** The recipe becomes what lies weighed. */
  async function follow() {
    faults.value = []
    try {
      show(await take(api.POST('/api/recipes/{recipe_id}/ready/follow', { params: { path: params.path } })))
      void client.invalidateQueries({ queryKey: ['recipe', id] })
    } catch (error) {
      failed(error)
    }
  }
  useIntervalFn(() => (tick.value = performance.now()), TICK)
  useIntervalFn(() => {
    if (!going && document.visibilityState === 'visible') void look()
  }, LOOK_EVERY)
  void look()
  return { view, message, faults, minute, act, follow, failed }
}

export type ReadyHandle = ReturnType<typeof useReady>
