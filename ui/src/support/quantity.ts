/** Quantities as they are typed and shown, in whatever unit, at the edge: the server knows grams, °C, cm and mL alone. */
import { decimalSign } from './decimal'
import { number } from './format'
import { units } from './units'

export type Unit = 'g' | '°C' | 'cm' | 'mm' | 'mL' | 'cups' | 'min' | 'g/kg' | '%' | ''
type Kind = 'mass' | 'warmth' | 'length' | 'volume' | 'time'

const KIND: Partial<Record<Unit, Kind>> = {
  g: 'mass',
  '°C': 'warmth',
  cm: 'length',
  mm: 'length',
  mL: 'volume',
  cups: 'volume',
  min: 'time',
}
/** Grams, centimetres, millilitres and minutes of each unit: exact by definition (NIST SP 811), but for kitchen spoons. */
const FACTORS: Record<Exclude<Kind, 'warmth'>, Record<string, number>> = {
  mass: { g: 1, kg: 1000, mg: 0.001, oz: 28.349523125, lb: 453.59237 },
  length: { cm: 1, mm: 0.1, m: 100, in: 2.54, ft: 30.48 },
  volume: {
    ml: 1,
    l: 1000,
    cl: 10,
    dl: 100,
    floz: 29.5735295625,
    cup: 236.5882365,
    tsp: 4.92892159375,
    tbsp: 14.78676478125,
  },
  time: { min: 1, m: 1, s: 1 / 60, h: 60 },
}
const ALIAS: Record<string, string> = {
  gram: 'g', grams: 'g', gr: 'g', ounce: 'oz', ounces: 'oz', lbs: 'lb', pound: 'lb', pounds: 'lb', '#': 'lb',
  '"': 'in', '″': 'in', inch: 'in', inches: 'in', "'": 'ft', '′': 'ft', feet: 'ft',
  'fl oz': 'floz', 'fl. oz': 'floz', 'fl.oz': 'floz', cups: 'cup', litre: 'l', liter: 'l', millilitre: 'ml', milliliter: 'ml',
  teaspoon: 'tsp', teaspoons: 'tsp', tablespoon: 'tbsp', tablespoons: 'tbsp',
  minute: 'min', minutes: 'min', sec: 's', second: 's', seconds: 's', hour: 'h', hours: 'h',
  '°c': 'c', celsius: 'c', '°f': 'f', fahrenheit: 'f', '°': 'deg', 'º': 'deg',
} // prettier-ignore
const FRACTIONS: Record<string, string> = {
  '½': '1/2',
  '¼': '1/4',
  '¾': '3/4',
  '⅓': '1/3',
  '⅔': '2/3',
  '⅛': '1/8',
}

/** "1,200" where decimals stand behind a point, and "1.200" where behind a comma: a thousandfold, or nearly one. */
const EITHER = /^[+-]?([1-9]\d{0,2})([.,])(\d{3})$/

/** What to say of a text that is no number here. */
export function unread(typed: string): string {
  const [, whole, sign, rest] = EITHER.exec(typed.trim().split(/\s/)[0] as string) ?? []
  if (sign && sign !== decimalSign())
    return `Write ${whole}${rest}, or ${whole}${decimalSign()}${rest}: it could be either.`
  return typed.trim() === '' ? 'A number is needed here.' : 'This is not a number.'
}

/** "2 1/2", "1/4", "2,5", "−3": a number, or null; null too where it could be a thousand times another. */
function plain(text: string): number | null {
  const spelled = text
    .replace(/[½¼¾⅓⅔⅛]/g, (f) => ` ${FRACTIONS[f]}`)
    .replace('\u2212', '-')
    .trim()
  const either = EITHER.exec(spelled)
  if (either && either[2] !== decimalSign()) return null
  if (/^[+-]?(\d+([.,]\d*)?|[.,]\d+)$/.test(spelled)) return Number(spelled.replace(',', '.'))
  const mixed = /^([+-]?)(?:(\d+)\s+)?(\d+)\s*\/\s*([1-9]\d*)$/.exec(spelled)
  if (!mixed) return null
  return (mixed[1] === '-' ? -1 : 1) * (Number(mixed[2] ?? 0) + Number(mixed[3]) / Number(mixed[4]))
}

/** What each part of "1 lb 4 oz" is: numbers with the words behind them. */
function parts(text: string): { value: number; unit: string }[] | null {
  const found: { value: number; unit: string }[] = []
  const piece = /([+\-\u2212]?[\d.,/½¼¾⅓⅔⅛\s]*[\d½¼¾⅓⅔⅛])\s*([^\d.,/½¼¾⅓⅔⅛+\-\u2212]*)/gy
  let at = 0
  for (let m = piece.exec(text); m; m = piece.exec(text)) {
    // Between two parts a hyphen joins them, as in "1 lb-8 oz".
    const value = plain(found.length ? (m[1] as string).replace(/^-/, '') : (m[1] as string))
    if (value === null || (found.length && value < 0)) return null
    const said = (m[2] as string).trim().toLowerCase().replace(/\.$/, '')
    found.push({ value, unit: ALIAS[said] ?? said })
    at = piece.lastIndex
  }
  return at === text.length && found.length ? found : null
}

/** Units a field of each kind may be in: how many of the metric one, and how that is called. */
function own(unit: Unit): { label: string; factor: number } {
  if (unit === 'g' && units.weight !== 'g') return { label: 'oz', factor: FACTORS.mass.oz as number }
  if ((unit === 'cm' || unit === 'mm') && units.length === 'in')
    return { label: 'in', factor: (FACTORS.length.in as number) / (unit === 'mm' ? 0.1 : 1) }
  if (unit === 'mL' && units.volume === 'fl oz')
    return { label: 'fl oz', factor: FACTORS.volume.floz as number }
  return { label: unit === '°C' ? `°${units.warmth}` : unit, factor: 1 }
}

/** What stands behind a field: the maker's own unit. Weights are typed in ounces where pounds are shown. */
export const ownUnit = (unit: Unit) => own(unit).label

/** The figure of a metric value in the maker's own unit. */
export const toOwn = (value: number, unit: Unit = '') =>
  unit === '°C' && units.warmth === 'F' ? (value * 9) / 5 + 32 : value / own(unit).factor

/** The metric value of a figure in the maker's own unit. */
export const fromOwn = (value: number, unit: Unit = '') =>
  unit === '°C' && units.warmth === 'F' ? ((value - 32) * 5) / 9 : value * own(unit).factor

/** A metric value as it stands in a field; what was typed comes back as it was. */
export function inField(value: number, unit: Unit = '', digits?: number) {
  const shown = toOwn(value, unit)
  return number(shown, digits ?? places(shown, unit))
}

/** What stands in a field that was filled with a value: that value to the last digit, unless something else was typed. */
export const readAgain = (typed: string, was: number | null, unit: Unit = '', digits?: number) =>
  was !== null && typed === inField(was, unit, digits) ? was : readNumber(typed, unit)

/** Decimals worth showing: inches as a rule has them, sixteenths in full. */
function places(shown: number, unit: Unit): number {
  if (own(unit).label === 'in') return Math.abs(shown * 16 - Math.round(shown * 16)) < 1e-3 ? 4 : 2
  return own(unit).label === 'oz' ? 3 : unit === '°C' && units.warmth === 'F' ? 1 : 4
}

/** What was typed, in metric; null when it is no number, or of another kind than the field.

    A number without a unit is in the maker's own. */
export function readNumber(typed: string, unit: Unit = ''): number | null {
  const text = typed.trim()
  const bare = plain(text)
  if (bare !== null) return fromOwn(bare, unit)
  const kind = KIND[unit]
  const said = parts(text)
  if (!said) return null
  if (said.some((p) => p.unit === '')) return null
  if (!kind)
    return said.length === 1 && ((said[0]?.unit === '%' && unit === '') || said[0]?.unit === unit)
      ? (said[0]?.value ?? null)
      : null
  if (kind === 'warmth') {
    const [one] = said
    if (said.length !== 1 || !one) return null
    if (one.unit === 'f') return ((one.value - 32) * 5) / 9
    if (one.unit === 'deg') return fromOwn(one.value, unit)
    return one.unit === 'c' ? one.value : null
  }
  const sum = summed(said, kind)
  return sum === null
    ? null
    : sum / (unit === 'mm' ? 0.1 : unit === 'cups' ? (FACTORS.volume.cup as number) : 1)
}

function summed(said: { value: number; unit: string }[], kind: keyof typeof FACTORS): number | null {
  let sum = 0
  for (const p of said) {
    const factor = FACTORS[kind][p.unit]
    if (factor === undefined) return null
    sum += p.value * factor
  }
  return sum
}

/** A dose as it was typed: what shall lie on the scale or in the spoon, or a rate on one of the bases of a dose. */
export type Quantity =
  | { amount: number; unit: 'g' | 'mL' }
  | { basis: 'g/kg' | 'percent' | 'tsp/lb' | 'tsp/lb batter'; amount: number }

/** "12 g", "1.5 tsp", "3 %", "5 g/kg", "1 tsp per lb", "0.5 oz ppo"; null where it is none of these. A number without
    a unit is none either: it is in the field's own. */
export function readQuantity(typed: string): Quantity | null {
  const rate =
    /^(.+?)\s*(?:(?:\/|\bper\b)\s*(kg|lbs?|pound)(?:\s+(?:of\s+)?(fats?|oils?|batter))?|\b(ppo))$/i.exec(
      typed.trim(),
    )
  const said = parts((rate ? (rate[1] as string) : typed).trim())
  if (!said || said.some((p) => p.unit === '')) return null
  const grams = summed(said, 'mass')
  const millilitres = summed(said, 'volume')
  if (!rate) {
    if (grams !== null) return { amount: grams, unit: 'g' }
    if (millilitres !== null) return { amount: millilitres, unit: 'mL' }
    const [one] = said
    return said.length === 1 && one?.unit === '%' ? { basis: 'percent', amount: one.value } : null
  }
  const pounds = rate[2]?.toLowerCase() === 'kg' ? 1000 / (FACTORS.mass.lb as number) : 1
  const batter = rate[3]?.toLowerCase() === 'batter'
  if (millilitres !== null)
    return {
      basis: batter ? 'tsp/lb batter' : 'tsp/lb',
      amount: millilitres / (FACTORS.volume.tsp as number) / pounds,
    }
  if (grams === null || batter) return null
  return { basis: 'g/kg', amount: (grams * 1000) / (FACTORS.mass.lb as number) / pounds }
}

const told = (value: number, digits: number, unit: string) => `${number(value, digits)}\u00a0${unit}`
const fine = (value: number) => (Math.abs(value) < 0.1 ? 3 : Math.abs(value) < 10 ? 2 : 1)

/** A weight that is not read off a scale here, such as a bar's or a lot's. */
export function weight(grams: number): string {
  if (units.weight === 'g') return told(grams, grams >= 1000 ? 0 : 1, 'g')
  const ounces = toOwn(grams, 'g')
  const rounded = Number(ounces.toFixed(fine(ounces)))
  if (units.weight === 'oz' || rounded < 16) return told(ounces, fine(ounces), 'oz')
  const rest = rounded % 16
  const pounds = told((rounded - rest) / 16, 0, 'lb')
  return rest < 0.05 ? pounds : `${pounds} ${told(rest, 1, 'oz')}`
}

export const warmth = (celsius: number, digits = 0) => told(toOwn(celsius, '°C'), digits, ownUnit('°C'))

/** A difference of temperatures. */
export const warmer = (celsius: number) =>
  told(units.warmth === 'F' ? (celsius * 9) / 5 : celsius, 0, ownUnit('°C'))

export const volume = (mL: number) =>
  told(toOwn(mL, 'mL'), units.volume === 'mL' ? 0 : fine(toOwn(mL, 'mL')), ownUnit('mL'))

export const length = (value: number, unit: 'cm' | 'mm' = 'cm') =>
  told(toOwn(value, unit), units.length === 'in' ? 2 : 1, ownUnit(unit))
