import { describe, expect, it } from 'vitest'
import { eventOf, ofSteps, WHAT } from '../src/bench/events'
import { due } from '../src/bench/useCues'

const CUES = [
  { minute: 2, kind: 'closing', message: 'Fig has about a minute left to drop' },
  { minute: 2.1, kind: 'gate', message: 'Look at Ash: it may stand already' },
  { minute: 9, kind: 'countdown', message: 'time is up' },
]

describe('cues', () => {
  it('come when they are due, once, and never two within 20 seconds', () => {
    const given = new Set<string>()
    const heard: number[] = []
    let last = -Infinity
    for (let ms = 0; ms < 12 * 60_000; ms += 250) {
      const cue = due(CUES, ms / 60_000, given, ms - last)
      if (!cue) continue
      given.add(`${cue.kind} ${cue.message}`)
      heard.push(ms)
      last = ms
    }
    expect(heard.length).toBe(3)
    heard.slice(1).forEach((ms, n) => expect(ms - (heard[n] as number)).toBeGreaterThanOrEqual(20_000))
    expect(heard[0]).toBe(120_000)
  })
  it('that were missed while the device slept are not given late', () => {
    expect(due(CUES, 5, new Set(), Infinity)).toBeUndefined()
  })
})

describe('what is written in afterwards', () => {
  const row = (what: string, value = '', portion = 'Fig') => eventOf({ minute: '4:30', what, portion, value })
  it('is an event for everything that is offered, at its own minute', () => {
    for (const what of [
      ...Object.keys(WHAT),
      ...Object.keys(ofSteps([{ key: 'drop Fig', label: 'drop Fig' }])),
    ]) {
      const event = row(what, what === 'remark words' ? 'too cool' : '12')
      expect(typeof event, what).toBe('object')
      expect((event as { minute: number }).minute).toBe(4.5)
    }
  })
  it('keeps what it is about', () => {
    expect(row('step drop Fig 2')).toMatchObject({ kind: 'step', step: 'drop Fig 2' })
    expect(row('fold Ash')).toMatchObject({ kind: 'fold', portion: 'Fig', into: ['Ash'] })
    expect(row('layer wet')).toMatchObject({ kind: 'layer', how: 'wet', portion: 'Fig' })
    expect(row('grams', '5,5')).toMatchObject({ kind: 'scent', grams: 5.5 })
    expect(row('loosen', '15')).toMatchObject({ kind: 'work', tool: 'hand', purpose: 'loosen' })
  })
  it('says what is wanting', () => {
    expect(row('fold Fig')).toBe('Which portion was folded?')
    expect(row('grams', 'a lot')).toBe('A number is needed here.')
    expect(row('remark words', ' ')).toBe('Words are needed here.')
  })
})
