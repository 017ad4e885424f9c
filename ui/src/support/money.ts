/** Money as the browser's region writes it. The workshop keeps bare figures, and says once what money they are in. */
import { spoken } from './decimal'
import { toOwn } from './quantity'
import { units } from './units'
import { fixed } from './decimal'

/** ISO 4217 codes by region; of a region that is not here the figure stands without a sign. */
const EURO = 'AT BE CY DE EE ES FI FR GR HR IE IT LT LU LV MT NL PT SI SK'
const OTHERS: Record<string, string> = {
  US: 'USD', GB: 'GBP', CA: 'CAD', AU: 'AUD', NZ: 'NZD', CH: 'CHF', SE: 'SEK', NO: 'NOK', DK: 'DKK', PL: 'PLN', CZ: 'CZK',
  HU: 'HUF', RO: 'RON', TR: 'TRY', IN: 'INR', JP: 'JPY', KR: 'KRW', CN: 'CNY', BR: 'BRL', MX: 'MXN', AR: 'ARS', CL: 'CLP',
  ZA: 'ZAR', IL: 'ILS', SG: 'SGD', MY: 'MYR', TH: 'THB', PH: 'PHP', ID: 'IDR', VN: 'VND', UA: 'UAH', EG: 'EGP', MA: 'MAD',
} // prettier-ignore

/** What this browser's region pays with, or "". */
export function moneyHere(): string {
  try {
    const region = new Intl.Locale(spoken()).maximize().region ?? ''
    return EURO.split(' ').includes(region) ? 'EUR' : (OTHERS[region] ?? '')
  } catch {
    return '' // it names no language
  }
}
/** Every money there is to choose from. */
export const MONIES = ['EUR', ...new Set(Object.values(OTHERS))].sort()

/** An amount in the workshop's money, else in that of this browser's region. */
export function money(value: number): string {
  const currency = units.money || moneyHere()
  if (!currency) return fixed(value, 2)
  return new Intl.NumberFormat(spoken(), {
    style: 'currency',
    currency,
    currencyDisplay: 'narrowSymbol',
  }).format(value)
}

/** Prices are kept by the kilogram and told by the pound where weights are. */
export const priced = () => (units.weight === 'g' ? 'a kilogram' : 'a pound')
const perKilo = () => (units.weight === 'g' ? 1 : toOwn(1000, 'g') / 16)
export const priceShown = (perKg: number) => perKg / perKilo()
export const priceKept = (typed: number) => typed * perKilo()
