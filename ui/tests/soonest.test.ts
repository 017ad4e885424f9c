import { describe, expect, it } from 'vitest'
import { soonest } from '../src/ribbon/soonest'

const NAMES = ['Marl', 'Chert', 'Flint', 'Loam', 'Peat']
const MEDIUM = [20, 5, 30, 10, 15]

/** A forecast with as much of it as the choice looks at: each step's odds are its portion's place times ten. */
const forecast = {
  lanes: NAMES.map((portion, i) => ({
    portion,
    stages: [{ time: { q50: 1 } }, { time: { q50: MEDIUM[i] } }],
  })),
  steps: [
    {
      key: 'pour',
      portions: [0, 1, 2, 3, 4],
      each: [0, 10, 20, 30, 40],
      puts: [0.5, 0.2, 0.1, 0.1, 0.1],
      risky: [1, 4],
      thin: [4],
    },
    { key: 'colour', portions: [1, 4], each: [10, 40], puts: [], risky: [], thin: [] },
  ],
} as unknown as Parameters<typeof soonest>[0]
const names = (f: typeof forecast) => f.lanes.map((l) => l.portion)

describe('the portions there is room for', () => {
  it('are those that come to medium first, in their own order, or all', () => {
    expect(names(soonest(forecast, 3))).toEqual(['Chert', 'Loam', 'Peat'])
    expect(soonest(forecast, 5)).toBe(forecast)
  })
  it('keep their own odds in every step', () => {
    for (const room of [1, 2, 3, 4, 5]) {
      const some = soonest(forecast, room)
      for (const step of some.steps)
        step.portions.forEach((lane, n) => {
          const name = some.lanes[lane]?.portion as string
          expect(step.each[n]).toBe(NAMES.indexOf(name) * 10)
        })
    }
  })
  it('keep what is risky and what they put into the mould', () => {
    const some = soonest(forecast, 3)
    const pour = some.steps[0]
    const named = (lanes: readonly number[] = []) => lanes.map((i) => some.lanes[i]?.portion)
    expect(named(pour?.risky)).toEqual(['Chert', 'Peat'])
    expect(named(pour?.thin)).toEqual(['Peat'])
    expect(pour?.puts).toEqual([0.2, 0.1, 0.1])
  })
})
