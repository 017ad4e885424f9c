/** Days in the order the browser's region has them, in the words of the app, which are English. */
import { spoken } from './decimal'

const region = () => (spoken().startsWith('en') ? spoken() : 'en-GB')

/** Whether a day is written before or behind its month. */
export function dateOrder(): 'dmy' | 'mdy' {
  const [first] = new Intl.DateTimeFormat(region(), { month: 'long', day: 'numeric' }).formatToParts(0)
  return first?.type === 'month' ? 'mdy' : 'dmy'
}

export const dated = (at: Date, how: Intl.DateTimeFormatOptions) => at.toLocaleString(region(), how)

/** The time zone of this device's clock, by its IANA name. */
export const timeZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone
