/** A dose typed as a quantity: what is asked of the server, and what is said where that cannot be. */
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import { fault, orSoon, Refused, Unreachable, type Fault, type Problem, type Recipe } from '../src/api/client'
import { useToWeigh } from '../src/ledger/useToWeigh'

const recipe = (...additives: string[]) =>
  ({
    additives: additives.map((additive) => ({ additive, amount: 1, basis: 'g/kg' })),
    liquids: [{ liquid: 'goat-milk', share: 0.5 }],
    scents: [{ fragrance: 'fig', load: 0.03 }],
  }) as unknown as Recipe

const draft = {
  recipe: ref(recipe('sugar', 'clay')),
  actFaults: ref<Fault[]>([]),
  asked: [] as unknown[],
  refuses: '',
}
vi.mock('../src/ledger/useDraft', () => ({
  injectDraft: () => ({
    ...draft,
    adjust: async (make: (of: Recipe) => unknown) => {
      await Promise.resolve()
      draft.asked.push(make(draft.recipe.value))
      draft.actFaults.value = draft.refuses ? [fault('/scents/0/load', draft.refuses)] : []
    },
    edit: (_: string, change: (of: Recipe) => void) => change(draft.recipe.value),
  }),
}))

beforeEach(() => {
  Object.assign(draft, { asked: [], refuses: '' })
  draft.recipe.value = recipe('sugar', 'clay')
})

describe('a quantity typed as a dose', () => {
  it('is asked of the row it was typed in, and of no other that stands there later', async () => {
    const put = useToWeigh('additive')
    expect(await put(1, '/additives/1/amount')({ amount: 7.4, unit: 'mL' })).toBeNull()
    expect(draft.asked).toEqual([{ kind: 'to_weigh', what: 'additive', row: 1, amount: 7.4, unit: 'mL' }])
    const late = put(1, '/additives/1/amount')({ amount: 12, unit: 'g' })
    draft.recipe.value = recipe('clay')
    await late
    expect(draft.asked[1]).toBeNull()
  })

  it('says why it cannot be', async () => {
    draft.refuses = 'This is weighed, not measured.'
    const put = useToWeigh('fragrance')
    expect(await put(0, '/scents/0/load')({ amount: 5, unit: 'mL' })).toBe('This is weighed, not measured.')
    expect(await put(0, '/scents/0/load')({ basis: 'tsp/lb', amount: 1 })).toContain(
      'not measured by the spoon',
    )
    expect(await useToWeigh('liquid')(0, '/liquids/0/share')({ basis: 'g/kg', amount: 5 })).toContain(
      'all liquid',
    )
  })

  it('as a rate is another basis, and of what has one basis alone the same rate on it', async () => {
    await useToWeigh('additive')(0, '/additives/0/amount')({ basis: 'tsp/lb', amount: 1.5 })
    await useToWeigh('fragrance')(0, '/scents/0/load')({ basis: 'g/kg', amount: 25 })
    await useToWeigh('liquid')(0, '/liquids/0/share')({ basis: 'percent', amount: 40 })
    const now = draft.recipe.value
    expect([now.additives[0]?.amount, now.additives[0]?.basis]).toEqual([1.5, 'tsp/lb'])
    expect([now.scents[0]?.load, now.liquids[0]?.share]).toEqual([0.025, 0.4])
    expect(draft.asked).toEqual([])
  })
})

describe('a query', () => {
  it('is asked again soon only where nobody answered', () => {
    const state = (error: Error | null) => ({ state: { error } })
    expect([orSoon(false)(state(null)), orSoon(60_000)(state(null))]).toEqual([false, 60_000])
    expect(orSoon(60_000)(state(new Unreachable()))).toBeLessThan(5000)
    expect(orSoon(false)(state(new Refused({ detail: 'No.', status: 422 } as Problem)))).toBe(false)
  })
})
