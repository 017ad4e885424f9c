/** The sign before decimals as the browser's region writes it: a comma or a point. */
export type Sign = ',' | '.'

/** A language as the browser tells it, or English where that is no language, such as "C". */
export function spoken(language = navigator.language): string {
  try {
    return Intl.getCanonicalLocales(language)[0] ?? 'en-GB'
  } catch {
    return 'en-GB'
  }
}

const known = new Map<string, Sign>()

export function decimalSign(language = navigator.language): Sign {
  let sign = known.get(language)
  if (!sign) {
    const [, decimal] = Intl.NumberFormat(spoken(language)).formatToParts(1.5)
    sign = decimal?.value === ',' ? ',' : '.'
    known.set(language, sign)
  }
  return sign
}

/** Rounded to so many decimals, all of them shown. */
export const fixed = (value: number, digits: number) => written(value.toFixed(digits))

/** A figure as it was sent, with all its digits. */
export const written = (figure: number | string) => String(figure).replace('.', decimalSign())
