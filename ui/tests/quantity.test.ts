import { describe, expect, it } from 'vitest'
import { paper } from '../src/support/paper'
import { readNumber, type Unit } from '../src/support/quantity'

describe('a quantity typed in whatever unit', () => {
  it.each<[string, Unit, number | null]>([
    ['12', 'g', 12],
    ['12,5', 'g', 12.5],
    ['12 oz', 'g', 340.19428],
    ['1 lb 4 oz', 'g', 566.99046],
    ['1.5 kg', 'g', 1500],
    ['2 1/2 in', 'cm', 6.35],
    ['½"', 'mm', 12.7],
    ['105 F', '°C', 40.55556],
    ['\u221220 °F', '°C', -28.88889],
    ['40 °C', '°C', 40],
    ['1.5 tsp', 'mL', 7.39338],
    ['3 fl oz', 'mL', 88.72059],
    ['5 %', '', 5],
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
    ['1..2', 'g'],
    ['1/0', ''],
    ['12 oz', ''],
    ['1 2 3', 'g'],
  ])('does not guess at %s where %s is expected', (typed, unit) => expect(readNumber(typed, unit)).toBeNull())

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
