/** What is done to one portion of a draft. */
import { computed } from 'vue'
import type { Act, Recipe } from '../api/client'
import type { DraftHandle } from '../ledger/useDraft'

/** Names of the portions whose amount was typed, by the draft they are of. */
const typedIn = new WeakMap<DraftHandle, Set<string>>()
const SCENT = { '0': 'no scent', '0.4': 'a little', '1': 'full scent', other: 'in grams' }

export function usePortions(draft: DraftHandle) {
  const portions = computed(() => draft.recipe.value?.design.portions ?? [])
  const scented = computed(
    () => !!draft.recipe.value?.scents.length && !!draft.weighed.value?.ledger?.scents_apart,
  )
  const portion = (
    what: string,
    i: number,
    change: (p: NonNullable<(typeof portions.value)[number]>, all: typeof portions.value) => void,
  ) =>
    draft.edit(what, (d) => {
      const one = d.design.portions[i]
      if (one) change(one, d.design.portions)
    })
  /** An act on the portion that stands here now, wherever it stands by then and whatever it is called. */
  function here(i: number, act: Record<string, unknown>) {
    const name = portions.value[i]?.name
    return (of: Recipe) => {
      const row = of.design.portions.findIndex((p) => p.name === name)
      return { ...act, row: row < 0 ? i : row } as Act
    }
  }
  /** What was typed here stays as typed: another portion takes the rest. */
  function amount(i: number, of: { amount: number; unit: 'g' | '%' | 'cup' }) {
    const name = portions.value[i]?.name ?? ''
    const typed = typedIn.get(draft) ?? new Set<string>()
    typedIn.set(draft, typed.add(name))
    const keep = portions.value.flatMap((p, n) => (p.name !== name && typed.has(p.name) ? [n] : []))
    return draft.adjust(here(i, { kind: 'portion_amount', ...of, keep }))
  }
  const scentOf = (share: number) => (share === 0 ? '0' : share === 0.4 ? '0.4' : share === 1 ? '1' : 'other')
  const scent = (i: number, how: string) => portion(`scent ${i}`, i, (p) => void (p.scent = Number(how)))
  return { portions, scented, portion, here, amount, scent, scentOf, SCENT }
}
