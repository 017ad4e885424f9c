import { describe, expect, it } from 'vitest'
import { blocksOf, fills } from '../src/plan/blocks'
import { at, FOLD, perMinute, stopsOf, ticksOf, type Axis } from '../src/ribbon/axis'

const plain: Axis = { minutes: 20, left: 100, width: 1000 }
const folded: Axis = { minutes: 1460, left: 0, width: 1000, folds: [[6, 1446]] }

describe('the axis', () => {
  it('is straight where nothing is folded, and ends at its ends', () => {
    for (const m of [0, 5, 12.5, 20]) expect(at(plain, m)).toBeCloseTo(100 + 50 * m)
    expect(at(plain, -3)).toBe(100)
    expect(at(plain, 99)).toBe(1100)
  })
  it('folds hours of waiting into a few pixels and never turns back', () => {
    expect(at(folded, 1446) - at(folded, 6)).toBeCloseTo(FOLD)
    expect(at(folded, 1460)).toBeCloseTo(1000)
    const every = Array.from({ length: 1461 }, (_, m) => at(folded, m))
    every.slice(1).forEach((x, i) => expect(x).toBeGreaterThanOrEqual(every[i] as number))
    expect(perMinute(folded)).toBeCloseTo((1000 - FOLD) / 20)
  })
  it('has ticks with room between them, and none within a fold', () => {
    for (const axis of [plain, folded]) {
      const places = ticksOf(axis, 80).map((t) => at(axis, t))
      places.slice(1).forEach((x, i) => expect(x - (places[i] as number)).toBeGreaterThan(FOLD - 1))
    }
    expect(ticksOf(folded, 40).some((t) => t > 6 && t < 1446)).toBe(false)
  })
  it('places the shades of a lane where their minutes are', () => {
    const stops = stopsOf(folded, [0, 1, 2, 3], 1460, String)
    expect(stops[0]?.at).toBe('0.00%')
    expect(stops[3]?.at).toBe('100.00%')
    expect(Number.parseFloat(stops[1]?.at ?? '')).toBeLessThan(Number.parseFloat(stops[2]?.at ?? ''))
  })
})

const step = (key: string, what: string, portions: number[], start: number, more: object = {}) => ({
  key,
  do: what,
  label: key,
  portions,
  start,
  end: start + 2,
  odds: 0.6,
  each: portions.map((_, i) => 0.9 - 0.6 * i),
  too_thick: 0.3,
  too_thin: 0.1,
  too_late: 0,
  lost: 0.05,
  prepares: what === 'split',
  on_mould: what === 'pass',
  risky: [],
  puts: [],
  ...more,
})
const forecast = {
  lanes: [{ tint: '#111111' }, { tint: '#222222' }, { tint: '#333333' }],
  steps: [
    step('split', 'split', [0, 1, 2], 1),
    step('drop', 'drop', [0, 2], 4, { risky: [2], puts: [0.2, 0.1] }),
    step('pour', 'pour', [1], 8, { puts: [0.7] }),
    step('wire', 'pass', [0, 1, 2], 12),
  ],
} as unknown as Parameters<typeof blocksOf>[0]

describe('the blocks of a plan', () => {
  const blocks = blocksOf(forecast, plain)
  const of = (key: string) => blocks.filter((b) => b.step.key === key)

  it('are one for neighbours, one for each that stands apart, and the mould has its own lane', () => {
    expect(of('split').map((b) => [b.from, b.to])).toEqual([[0, 2]])
    expect(of('drop').map((b) => [b.from, b.to])).toEqual([
      [0, 0],
      [2, 2],
    ])
    expect(of('wire').map((b) => [b.from, b.to])).toEqual([[3, 3]])
    expect(blocks.every((b) => b.row === forecast.steps.indexOf(b.step))).toBe(true)
  })
  it('say the odds of their own portions, and what is wanting adds up with them', () => {
    const [first, second] = of('drop')
    expect([first?.odds, second?.odds]).toEqual([0.9, 0.9 - 0.6])
    for (const b of blocks) expect(b.odds + b.thick + b.thin).toBeCloseTo(1)
    expect([first?.risky, second?.risky]).toEqual([false, true])
  })
  it('fill the mould with what was poured, in its colours', () => {
    const filled = fills(forecast, plain, 200, 100)
    expect(filled.map((f) => f.tint)).toEqual(['#111111', '#333333', '#222222'])
    const top = (points: string) => Math.min(...points.split(' ').map((p) => Number(p.split(',')[1])))
    expect(filled.map((f) => top(f.points))).toEqual([180, 170, 100])
  })
})
