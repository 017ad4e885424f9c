/** Money as the browser's region writes it. The workshop keeps bare figures: they are in the maker's own money. */
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

export function money(value: number): string {
  const language = spoken()
  let region: string | undefined
  try {
    region = new Intl.Locale(language).maximize().region
  } catch {
    return fixed(value, 2)
  }
  const currency = EURO.split(' ').includes(region ?? '') ? 'EUR' : OTHERS[region ?? '']
  const how: Intl.NumberFormatOptions = currency
    ? { style: 'currency', currency, currencyDisplay: 'narrowSymbol' }
    : { minimumFractionDigits: 2, maximumFractionDigits: 2 }
  return new Intl.NumberFormat(language, how).format(value)
}

/** Prices are kept by the kilogram and told by the pound where weights are. */
export const priced = () => (units.weight === 'g' ? 'a kilogram' : 'a pound')
const perKilo = () => (units.weight === 'g' ? 1 : toOwn(1000, 'g') / 16)
export const priceShown = (perKg: number) => perKg / perKilo()
export const priceKept = (typed: number) => typed * perKilo()
