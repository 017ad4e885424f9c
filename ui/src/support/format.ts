/** Numbers as the maker reads them. Nothing here reckons: it rounds and words what the server said. */
import { dated } from './dated'
import { decimalSign, fixed } from './decimal'

const trim = (text: string) =>
  text.includes(decimalSign()) ? text.replace(/0+$/, '').replace(/[.,]$/, '') : text

export const percent = (share: number, digits = 1) => trim(fixed(share * 100, digits))

export const number = (value: number, digits = 4) => trim(fixed(value, digits))

/** Minutes on the clock, m:ss. */
export function clock(minutes: number): string {
  const seconds = Math.max(0, Math.floor(minutes * 60))
  const rest = String(seconds % 60).padStart(2, '0')
  return seconds >= 3600
    ? `${Math.floor(seconds / 3600)}:${String(Math.floor(seconds / 60) % 60).padStart(2, '0')}:${rest}`
    : `${Math.floor(seconds / 60)}:${rest}`
}

/** A time in minutes, with no more precision than it has. */
export const minutes = (m: number) => (m < 3 ? trim(fixed(m, 1)) : m < 600 ? m.toFixed(0) : 'over 600')

export const signed = (m: number) => `${m < 0 ? '\u2212' : '+'}${fixed(Math.abs(m), 1)}`

/** Odds, as they are told everywhere: "32 %". */
export const chance = (odds: number) => `${Math.round(odds * 100)}\u00a0%`

export const day = (iso: string) => dated(new Date(iso), { day: 'numeric', month: 'short', year: 'numeric' })

/** "2.3 times as fast" or "0.8 times as fast", for a ratio of speeds. */
export const times = (ratio: number) => `${ratio < 10 ? trim(fixed(ratio, 1)) : ratio.toFixed(0)}\u202f×`

export const CLAIM_WORDS: Record<string, string> = {
  slows: 'slows trace',
  none: 'no effect',
  slight: 'slight acceleration',
  moderate: 'moderate acceleration',
  strong: 'strong acceleration',
  seizes: 'may seize',
  unknown: 'says nothing',
}

export const FAMILY_WORDS: Record<string, string> = {
  citrus: 'citrus',
  mint: 'mint or herb',
  wood: 'wood or resin',
  fresh: 'fresh or green',
  fruity: 'fruity',
  sweet: 'vanilla or sweet',
  musk: 'musk or perfume',
  floral: 'floral',
  spice: 'clove or cinnamon',
  other: 'something else',
}

export const RICING_WORDS: Record<string, string> = {
  unknown: 'says nothing of grains',
  no: 'does not rice',
  some: 'may rice',
  yes: 'rices',
}

export const COLOUR_WORDS: Record<string, string> = {
  unknown: 'says nothing of colour',
  no: 'does not discolour',
  tint: 'tints',
  brown: 'turns brown',
}

export const SHADE_WORDS: Record<string, string> = {
  true: 'stayed true',
  tint: 'a tint',
  tan: 'tan',
  brown: 'brown',
  odd: 'an odd colour',
}
