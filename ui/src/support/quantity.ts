/** Quantities as they are typed, in whatever unit, read at the edge: the server knows grams, °C, cm and mL alone. */

export type Unit = 'g' | '°C' | 'cm' | 'mm' | 'mL' | 'g/kg' | ''
type Kind = 'mass' | 'warmth' | 'length' | 'volume'

const KIND: Partial<Record<Unit, Kind>> = {
  g: 'mass',
  '°C': 'warmth',
  cm: 'length',
  mm: 'length',
  mL: 'volume',
}
/** Grams, centimetres and millilitres of each unit: exact by definition (NIST SP 811), but for kitchen spoons. */
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
}
const ALIAS: Record<string, string> = {
  gram: 'g', grams: 'g', gr: 'g', ounce: 'oz', ounces: 'oz', lbs: 'lb', pound: 'lb', pounds: 'lb', '#': 'lb',
  '"': 'in', '″': 'in', inch: 'in', inches: 'in', "'": 'ft', '′': 'ft', feet: 'ft',
  'fl oz': 'floz', 'fl. oz': 'floz', 'fl.oz': 'floz', cups: 'cup', litre: 'l', liter: 'l', millilitre: 'ml', milliliter: 'ml',
  '°c': 'c', celsius: 'c', '°f': 'f', fahrenheit: 'f', 'º': 'deg',
} // prettier-ignore
const FRACTIONS: Record<string, string> = {
  '½': '1/2',
  '¼': '1/4',
  '¾': '3/4',
  '⅓': '1/3',
  '⅔': '2/3',
  '⅛': '1/8',
}

/** "2 1/2", "1/4", "2,5", "−3": a number, or null. */
function plain(text: string): number | null {
  const spelled = text
    .replace(/[½¼¾⅓⅔⅛]/g, (f) => ` ${FRACTIONS[f]}`)
    .replace('\u2212', '-')
    .trim()
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
    const value = plain(m[1] as string)
    if (value === null) return null
    const said = (m[2] as string).trim().toLowerCase().replace(/\.$/, '')
    found.push({ value, unit: ALIAS[said] ?? said })
    at = piece.lastIndex
  }
  return at === text.length && found.length ? found : null
}

/** What was typed, in the field's own unit; null when it is no number, or of another kind than the field.

    A number without a unit is in the field's own. */
export function readNumber(typed: string, unit: Unit = ''): number | null {
  const text = typed.trim()
  const bare = plain(text)
  if (bare !== null) return bare
  const kind = KIND[unit]
  const said = parts(text)
  if (!said) return null
  if (said.some((p) => p.unit === '')) return null
  if (!kind)
    return said.length === 1 && (said[0]?.unit === '%' || said[0]?.unit === unit)
      ? (said[0]?.value ?? null)
      : null
  if (kind === 'warmth') {
    const [one] = said
    if (said.length !== 1 || !one) return null
    if (one.unit === 'f') return ((one.value - 32) * 5) / 9
    return one.unit === 'c' || one.unit === 'deg' ? one.value : null
  }
  const table = FACTORS[kind]
  let sum = 0
  for (const p of said) {
    const factor = table[p.unit]
    if (factor === undefined) return null
    sum += p.value * factor
  }
  return sum / (unit === 'mm' ? 0.1 : 1)
}
