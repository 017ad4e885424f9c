/** What a recipe comes to as it is typed: weighed first, one request at a time, and forecast once the hand rests. */
import { ref, shallowRef, type ShallowRef } from 'vue'
import { sharing } from '../support/shared'
import { api, Refused, take, type Recipe, type RecipeForecast, type Weights } from '../api/client'

const TRY_AGAIN = 2000
const FORETELL_AFTER = 150 // ms without an edit after which a forecast is asked for: the weights never wait for it

/** `letGo` draws what was typed: it is called with its weights, or when none will come. */
export function useFigures(id: string, recipe: ShallowRef<Recipe | null>, letGo: () => void) {
  // What was weighed and what was forecast last, each with the recipe it is of.
  const weighed = shallowRef<Weights | null>(null)
  const weighedOf = shallowRef<Recipe | null>(null)
  const foretold = shallowRef<RecipeForecast | null>(null)
  const foretoldOf = shallowRef<Recipe | null>(null)
  const unreachable = ref<string | null>(null)
  let weighing = false
  let foretelling = false
  let ended = false
  let askTimer = 0
  let foretellTimer = 0

  /** Weigh what stands here, one request at a time: what is typed meanwhile is weighed next, and only the newest. */
  async function weigh() {
    clearTimeout(askTimer)
    if (weighing) return
    weighing = true
    try {
      while (recipe.value && recipe.value !== weighedOf.value && !ended) {
        const of = recipe.value
        try {
          weighed.value = sharing(weighed.value, await take(api.POST('/api/weigh', { body: { recipe: of } })))
          weighedOf.value = of
          unreachable.value = null
          letGo()
        } catch (error) {
          if (of !== recipe.value) continue
          unreachable.value = (error as Error).message
          const passes = !(error instanceof Refused) || error.problem.status >= 500
          if (!ended && (passes || error.problem.status === 429))
            askTimer = window.setTimeout(weigh, TRY_AGAIN)
          return
        }
      }
    } finally {
      weighing = false
    }
    foretellSoon()
  }

  function foretellSoon(after = FORETELL_AFTER) {
    clearTimeout(foretellTimer)
    if (!ended) foretellTimer = window.setTimeout(foretell, after)
  }

  /** Forecast what stands here, once it is weighed and the hand rests; one request at a time. */
  async function foretell() {
    const of = weighedOf.value
    if (foretelling || !of || of !== recipe.value || of === foretoldOf.value) return
    if (!weighed.value?.weighing.sheet) return // there is nothing to forecast
    foretelling = true
    try {
      foretold.value = await take(api.POST('/api/forecast', { body: { recipe: of, seed: id } }))
      foretoldOf.value = of
    } catch {
      // What was weighed stands all the same: only what is foretold is of a moment ago.
      if (of === recipe.value) foretellSoon(TRY_AGAIN)
    } finally {
      foretelling = false
    }
    if (of !== recipe.value) foretellSoon()
  }

  /** The server weighed it with the answer that made it. */
  function known(of: Recipe, weights: Weights) {
    clearTimeout(askTimer)
    weighed.value = sharing(weighed.value, weights)
    weighedOf.value = of
    unreachable.value = null
    foretellSoon(0)
  }
  function stop() {
    ended = true
    clearTimeout(askTimer)
    clearTimeout(foretellTimer)
  }
  return { weighed, weighedOf, foretold, foretoldOf, unreachable, weigh, known, stop }
}
