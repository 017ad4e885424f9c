/** A dose typed as a weight, spoons or a rate, in place of its figure. */
import { useMemoize } from '@vueuse/core'
import { nextTick } from 'vue'
import type { Recipe } from '../api/client'
import type { Quantity } from '../support/quantity'
import { injectDraft } from './useDraft'

const ROWS = {
  additive: (of: Recipe) => of.additives.map((d) => d.additive),
  liquid: (of: Recipe) => of.liquids.map((u) => u.liquid),
  fragrance: (of: Recipe) => of.scents.map((s) => s.fragrance),
}

export function useToWeigh(what: keyof typeof ROWS) {
  const draft = injectDraft()

  /** Put it into this row, or tell what is wrong with it. */
  async function put(row: number, at: string, typed: Quantity): Promise<string | null> {
    if ('basis' in typed) return rate(row, at, typed)
    const id = draft.recipe.value && ROWS[what](draft.recipe.value)[row]
    await draft.adjust((of) =>
      ROWS[what](of)[row] === id ? { kind: 'to_weigh', what, row, ...typed } : null,
    )
    await nextTick()
    const [wrong] = draft.actFaults.value
    return wrong ? wrong.message : null
  }

  async function rate(row: number, at: string, { basis, amount }: Extract<Quantity, { basis: string }>) {
    if (what === 'additive')
      draft.edit(at, (d) => void Object.assign(d.additives[row] ?? {}, { basis, amount }))
    else if (basis.startsWith('tsp')) return 'This is weighed, not measured by the spoon: type a weight or %.'
    else if (what === 'liquid') {
      if (basis !== 'percent') return 'A liquid is so much of all liquid: type a weight or %.'
      draft.edit(at, (d) => void Object.assign(d.liquids[row] ?? {}, { share: amount / 100 }))
    } else {
      const load = amount / (basis === 'percent' ? 100 : 1000)
      draft.edit(at, (d) => void Object.assign(d.scents[row] ?? {}, { load }))
    }
    await nextTick()
    return null
  }

  /** What a row's field does with what is typed: the same function each time it is drawn, so that it need not be. */
  return useMemoize((row: number, at: string) => (typed: Quantity) => put(row, at, typed))
}
