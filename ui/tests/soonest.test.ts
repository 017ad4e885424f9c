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
    { key: 'pour', portions: [0, 1, 2, 3, 4], each: [0, 10, 20, 30, 40] },
    { key: 'colour', portions: [1, 4], each: [10, 40] },
  ],
} as unknown as Parameters<typeof soonest>[0]
const names = (f: typeof forecast) => f.lanes.map((l) => l.portion)

describe('the portions there is room for', () => {
  it('are those that come to medium first, in their own order, or all', () => {
    expect(names(soonest(forecast, 3))).toEqual(['Chert', 'Loam', 'Peat'])
    expect(soonest(forecast, 5)).toBe(forecast)
  })
  it('have the one that is asked for among them, also the slowest', () => {
    expect(names(soonest(forecast, 3, 'Flint'))).toEqual(['Chert', 'Flint', 'Loam'])
  })
  it('keep their own odds in every step', () => {
    for (const wanted of [null, ...NAMES]) {
      const some = soonest(forecast, 3, wanted)
      for (const step of some.steps)
        step.portions.forEach((lane, n) => {
          const name = some.lanes[lane]?.portion as string
          expect(step.each[n]).toBe(NAMES.indexOf(name) * 10)
        })
    }
  })
})
