import { afterEach, describe, expect, it, vi } from 'vitest'
import { fixed, written } from '../src/support/decimal'
import { minutes, percent, signed } from '../src/support/format'
import { asked, paper, printed } from '../src/support/paper'
import {
  inField,
  length,
  ownUnit,
  readNumber,
  readQuantity,
  unread,
  volume,
  warmer,
  warmth,
  weight,
  type Quantity,
  type Unit,
} from '../src/support/quantity'
import { readIn } from '../src/support/units'

describe('a quantity typed in whatever unit', () => {
  it.each<[string, Unit, number | null]>([
    ['12', 'g', 12],
    ['12,5', 'g', 12.5],
    ['12 oz', 'g', 340.19428],
    ['1 lb 4 oz', 'g', 566.99046],
    ['1 lb-8 oz', 'g', 680.388555],
    ['1 lb - 8 oz', 'g', 680.388555],
    ['1.5 kg', 'g', 1500],
    ['2 1/2 in', 'cm', 6.35],
    ['½"', 'mm', 12.7],
    ['105 F', '°C', 40.55556],
    ['\u221220 °F', '°C', -28.88889],
    ['40 °C', '°C', 40],
    ['1.5 tsp', 'mL', 7.39338],
    ['3 fl oz', 'mL', 88.72059],
    ['5 %', '', 5],
    ['1/2 cup', 'cups', 0.5],
    ['236.5882365 mL', 'cups', 1],
    ['90 s', 'min', 1.5],
    ['0.5 m', 'cm', 50],
    ['1/3', '', 1 / 3],
  ])('reads %s where %s is expected', (typed, unit, wanted) => {
    expect(readNumber(typed, unit)).toBeCloseTo(wanted as number, 4)
  })

  it.each<[string, Unit]>([
    ['', 'g'],
    ['a lot', 'g'],
    ['12 in', 'g'],
    ['12 F', 'g'],
    ['12 oz', 'cm'],
    ['3 kg', '°C'],
    ['1 lb 4', 'g'],
    ['1 lb −8 oz', 'g'],
    ['1..2', 'g'],
    ['1/0', ''],
    ['12 oz', ''],
    ['2 %', 'g/kg'],
    ['2 h', 'g'],
    ['1,200', 'g'],
    ['12,500 g', 'g'],
    ['1 2 3', 'g'],
  ])('does not guess at %s where %s is expected', (typed, unit) => expect(readNumber(typed, unit)).toBeNull())

  it.each<[string, Quantity | null]>([
    ['12 g', { amount: 12, unit: 'g' }],
    ['1 lb 4 oz', { amount: 566.99046, unit: 'g' }],
    ['1.5 tsp', { amount: 7.39338, unit: 'mL' }],
    ['½ teaspoon', { amount: 2.46446, unit: 'mL' }],
    ['3 %', { basis: 'percent', amount: 3 }],
    ['5 g/kg', { basis: 'g/kg', amount: 5 }],
    ['1 oz per lb of fats', { basis: 'g/kg', amount: 62.5 }],
    ['1 tsp ppo', { basis: 'tsp/lb', amount: 1 }],
    ['1 tbsp / lb batter', { basis: 'tsp/lb batter', amount: 3 }],
    ['1', null],
    ['1 tsp 2 g', null],
    ['1 in', null],
    ['1 oz / lb batter', null],
    ['5 g/k', null],
    ['%', null],
  ])('reads %s as a dose', (typed, wanted) => {
    const read = readQuantity(typed)
    expect(read && { ...read, amount: Number(read.amount.toFixed(5)) }).toEqual(wanted)
  })

  it('never drifts: what a scale in ounces or a thermometer in Fahrenheit shows comes back as it was', () => {
    for (let n = 0; n < 500; n++) {
      const ounces = Math.round(n * 7919.3) / 100
      const grams = readNumber(`${ounces} oz`, 'g') as number
      expect(Number((grams / 28.349523125).toFixed(2))).toBe(ounces)
      const fahrenheit = n - 40
      const celsius = readNumber(`${fahrenheit} F`, '°C') as number
      expect(Math.round((celsius * 9) / 5 + 32)).toBe(fahrenheit)
      const inches = `${Math.floor(n / 8)} ${(n % 8) + 1}/8 in`
      expect((readNumber(inches, 'cm') as number) / 2.54).toBeCloseTo(
        Math.floor(n / 8) + ((n % 8) + 1) / 8,
        9,
      )
    }
  })
})

describe("the maker's own units", () => {
  afterEach(() => readIn({ weight: 'g', warmth: 'C', length: 'cm', volume: 'mL', money: '' }))
  const own = () => readIn({ weight: 'oz', warmth: 'F', length: 'in', volume: 'fl oz', money: '' })

  it('stand behind fields, and a bare number is read in them', () => {
    own()
    expect(['g', '°C', 'cm', 'mm', 'mL', 'g/kg'].map((u) => ownUnit(u as Unit))).toEqual([
      'oz', '°F', 'in', 'in', 'fl oz', 'g/kg',
    ]) // prettier-ignore
    expect(readNumber('12', 'g')).toBeCloseTo(340.19428, 4)
    expect(readNumber('12 g', 'g')).toBe(12)
    expect(readNumber('105', '°C')).toBeCloseTo(40.5556, 4)
    expect(readNumber('105°', '°C')).toBeCloseTo(40.5556, 4)
    expect(readNumber('40 C', '°C')).toBe(40)
    expect(readNumber('2 1/2', 'mm')).toBeCloseTo(63.5, 9)
    expect(readNumber('7', 'g/kg')).toBe(7)
  })

  it('never drift: what was typed stands in the field as it was, and leaving it changes nothing', () => {
    own()
    for (let n = 1; n < 400; n++)
      for (const [typed, unit] of [
        [String(n / 20), 'g'],
        [String((n - 40) / 10), '°C'],
        [String(n / 16), 'cm'],
        [String(n / 16), 'mm'],
        [String(n / 4), 'mL'],
      ] as [string, Unit][]) {
        const metric = readNumber(typed, unit) as number
        expect(inField(metric, unit)).toBe(typed)
        expect(readNumber(inField(metric, unit), unit)).toBe(metric)
      }
  })

  it('are told as they are said', () => {
    const said = () =>
      [weight(1000), weight(85.04), warmth(40), warmer(3), length(25, 'mm'), volume(1500)].join(' | ').replaceAll('\u00a0', ' ') // prettier-ignore
    expect(said()).toBe('1000 g | 85 g | 40 °C | 3 °C | 25 mm | 1500 mL')
    own()
    expect(said()).toBe('35.3 oz | 3 oz | 104 °F | 5 °F | 0.98 in | 50.7 fl oz')
    readIn({ weight: 'lb', warmth: 'C', length: 'cm', volume: 'mL', money: '' })
    expect(weight(1000).replaceAll('\u00a0', ' ')).toBe('2 lb 3.3 oz')
    expect(weight(453.6).replaceAll('\u00a0', ' ')).toBe('1 lb')
  })
})

describe('where decimals stand behind a comma', () => {
  afterEach(() => vi.restoreAllMocks())

  it('figures are shown with it and read with either, but for what could be a thousand times more', () => {
    expect(unread('1,200 g')).toBe('Write 1200, or 1.200: it could be either.')
    vi.spyOn(navigator, 'language', 'get').mockReturnValue('de-DE')
    expect(weight(85.04).replaceAll('\u00a0', ' ')).toBe('85 g')
    expect([percent(0.125), minutes(2.5), signed(-1.25), fixed(2, 1), written(0.5)]).toEqual(
      ['12,5', '2,5', '\u22121,3', '2,0', '0,5']) // prettier-ignore
    expect([readNumber('1,200', 'g'), readNumber('12.5', 'g'), readNumber('0.125', 'g')]).toEqual([
      1.2, 12.5, 0.125,
    ])
    expect(readNumber('1.200', 'g')).toBeNull()
    expect(unread('1.200')).toBe('Write 1200, or 1,200: it could be either.')
    expect([unread(''), unread('1.5.2')]).toEqual(['A number is needed here.', 'This is not a number.'])
    for (let n = 1; n < 3000; n++) expect(readNumber(inField(n / 1000, 'g'), 'g')).toBe(n / 1000)
    expect(printed('A4')).toContain('paper=A4&decimal=%2C&dates=dmy&zone=')
    vi.spyOn(navigator, 'language', 'get').mockReturnValue('en-US')
    expect(asked()).toContain('decimal=.&dates=mdy&zone=')
  })
})

describe('the paper in the printer', () => {
  it.each([
    ['en-US', 'Letter'],
    ['es-MX', 'Letter'],
    ['en', 'Letter'],
    ['en-GB', 'A4'],
    ['de', 'A4'],
    ['not a language', 'A4'],
  ])('of %s is %s', (language, wanted) => expect(paper(language)).toBe(wanted))
})
