import { dateOrder, timeZone } from './dated'
import { decimalSign } from './decimal'

/** The paper that lies in printers here, by the browser's region: Letter in most of the Americas, else A4. */
const LETTER = new Set(['US', 'CA', 'MX', 'PH', 'CL', 'CO', 'CR', 'GT', 'PA', 'PR', 'SV', 'VE', 'DO', 'NI'])

export function paper(language = navigator.language): 'A4' | 'Letter' {
  try {
    return LETTER.has(new Intl.Locale(language).maximize().region ?? '') ? 'Letter' : 'A4'
  } catch {
    return 'A4'
  }
}

/** How a file that is asked for by a link is to write figures, days and hours. */
export const asked = () =>
  new URLSearchParams({ decimal: decimalSign(), dates: dateOrder(), zone: timeZone() }).toString()

/** How a paper is asked for: its size, and what stands on it. */
export const printed = (size = paper()) => `paper=${size}&${asked()}`
