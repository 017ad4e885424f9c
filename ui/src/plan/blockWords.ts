/** What the words on a block are, by the room there is: beside one another, one over the other, or upright. */
import type { Block } from './blocks'

export interface Room {
  width: number
  height: number
}
export const LONG = 60 // minutes of waiting from which they are folded together

export function blockWords(b: Block, f: Room): { name: string; odds: string; how: 'row' | 'col' | 'up' } {
  const odds = b.prepares || f.width < 17 ? '' : String(Math.round(100 * b.odds))
  const verb = b.step.label.split(' ')[0] as string
  const fit = (room: number, letter: number) =>
    [b.step.label, verb].find((word) => word.length * letter <= room) ?? ''
  const long = b.step.end - b.step.start
  if (b.step.do === 'wait' && long > LONG) {
    const hours = Math.round(long / 60)
    return { name: hours < 36 ? `${hours} h` : `${Math.round(hours / 24)} days`, odds, how: 'row' }
  }
  if (b.prepares) {
    const up = f.width < 36 && f.height > 58
    return {
      name: f.height < 12 ? '' : fit(up ? f.height - 8 : f.width - 8, 6.4),
      odds,
      how: up ? 'up' : 'row',
    }
  }
  if (f.width < 36 && f.height > 70) return { name: fit(f.height - 40, 7.4), odds, how: 'up' }
  const beside = fit(f.width - 34, 7.4)
  if (beside === b.step.label || f.height < 38) return { name: beside, odds, how: 'row' }
  return { name: fit(f.width - 6, 7.4), odds, how: 'col' }
}
