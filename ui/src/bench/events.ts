/** What can be written down of a pour, in the words of the bench. */
import type { PourEvent, Schemas } from '../api/client'
import { newId } from './usePour'

type Flag = Extract<PourEvent, { kind: 'flag' }>['flag']
export const FLAGS: Record<Flag, string> = {
  ricing: 'ricing',
  seizing: 'seized',
  separation: 'oil weeps',
  'false-trace': 'false trace',
  overheating: 'overheats',
  soup: 'will not thicken',
}

/** Stages: "came to" it then, or (with LOOKED before it) was there at that minute, since when is open. */
const LOOKED = 'at '
export const WHAT: Record<string, string> = {
  emulsion: 'emulsion',
  light: 'came to light trace',
  medium: 'came to medium trace',
  thick: 'came to thick trace',
  set: 'came to set',
  [LOOKED + 'emulsion']: 'was still at emulsion',
  [LOOKED + 'light']: 'was at light trace',
  [LOOKED + 'medium']: 'was at medium trace',
  [LOOKED + 'thick']: 'was at thick trace',
  [LOOKED + 'set']: 'was set',
  split: 'batter split',
  scent: 'scent in',
  unscented: 'left unscented',
  stick: 'stick-blended, seconds',
  hand: 'stirred by hand, seconds',
  temperature: 'temperature, °C',
  pouring: 'pouring began',
  ended: 'mould full',
  ...FLAGS,
  smooth: 'nothing else went wrong',
}
export const VALUED = new Set(['stick', 'hand', 'temperature'])
export const WHOLE = new Set(['split', 'pouring', 'ended', 'smooth', 'temperature'])

/** Minutes from m:ss or a decimal number; null when it is neither. */
export function readMinute(typed: string): number | null {
  const text = typed.trim().replace(',', '.')
  const parts = /^(\d+):([0-5]?\d)$/.exec(text)
  if (parts) return Number(parts[1]) + Number(parts[2]) / 60
  return /^\d+(\.\d+)?$/.test(text) ? Number(text) : null
}

export interface Row {
  minute: string
  what: string
  portion: string
  value: string
}

/** The event of a row, or what is wrong with it. */
export function eventOf(row: Row): PourEvent | string {
  const minute = readMinute(row.minute)
  if (minute === null) return 'A time is m:ss, or minutes.'
  const value = Number(row.value.trim().replace(',', '.'))
  if (VALUED.has(row.what) && (row.value.trim() === '' || Number.isNaN(value)))
    return 'A number is needed here.'
  const base = { id: newId(), minute, sure: true }
  const portion = WHOLE.has(row.what) || !row.portion ? null : row.portion
  if (row.what in FLAGS) return { ...base, kind: 'flag', portion, flag: row.what as Flag }
  switch (row.what) {
    case 'split':
    case 'pouring':
    case 'ended':
    case 'smooth':
      return { ...base, kind: row.what }
    case 'scent':
      return { ...base, kind: 'scent', portion, grams: null, share: null }
    case 'unscented':
      return { ...base, kind: 'unscented', portion }
    case 'stick':
    case 'hand':
      return { ...base, kind: 'work', tool: row.what, portion, seconds: value, purpose: 'mix' }
    case 'temperature':
      return { ...base, kind: 'temperature', celsius: value }
  }
  const turned = !row.what.startsWith(LOOKED)
  const stage = row.what.replace(LOOKED, '') as Schemas['StageSeen']['stage']
  return { ...base, kind: 'seen', portion, stage, turned }
}
