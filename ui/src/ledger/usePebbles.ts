/** Tints of the portions something goes into; none where there is but one portion. */
import type { Recipe } from '../api/client'
import { injectDraft } from './useDraft'

type Portion = Recipe['design']['portions'][number]

export function usePebbles() {
  const draft = injectDraft()
  return (takes: (portion: Portion) => boolean): string[] => {
    const portions = draft.recipe.value?.design.portions ?? []
    const rows = draft.weighed.value?.ledger?.rows ?? []
    if (portions.length < 2) return []
    return portions.flatMap((p, i) => {
      const tint = rows.find((row) => row.portion === i)?.tint ?? p.tint
      return takes(p) && tint ? [tint] : []
    })
  }
}
