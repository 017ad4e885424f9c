import { describe, expect, it } from 'vitest'
import { matching, near } from '../src/support/matching'

const shelf = [
  { name: 'Olive', hint: 'SV 184-196', also: ['olive oil', 'Olivenöl', 'aceite de oliva'] },
  { name: 'Olive pomace', also: ["grignons d'olive"] },
  { name: 'Rapeseed', also: ['canola'] },
  { name: 'Shea butter', also: ['beurre de karité'] },
  { name: 'Castor', also: ['Rizinusöl'] },
]
const found = (typed: string) => matching(shelf, typed).map((o) => o.name)

describe('what is meant by what was typed', () => {
  it('is found by any name, in any case, with or without accents', () => {
    expect(found('OLIVE OIL')).toEqual(['Olive'])
    expect(found('canola')).toEqual(['Rapeseed'])
    expect(found('karite')).toEqual(['Shea butter'])
    expect(found('rizinusol')).toEqual(['Castor'])
    expect(found('')).toHaveLength(5)
  })
  it('has first what begins so', () => expect(found('oliv')[0]).toBe('Olive'))
  it('forgives one letter in a longer word, and none where something fits', () => {
    expect(found('caster')).toEqual(['Castor'])
    expect(found('canolla')).toEqual(['Rapeseed'])
    expect(found('sheaa buter')).toEqual(['Shea butter'])
    expect(found('zzzz')).toEqual([])
  })
  it('knows words that differ by one letter', () => {
    for (const [a, b] of [
      ['castor', 'caster'],
      ['olive', 'olvie'],
      ['palm', 'pal'],
      ['shea', 'sheaa'],
    ] as const)
      expect([near(a, b), near(b, a)]).toEqual([true, true])
    expect(near('olive', 'oil')).toBe(false)
  })
})
