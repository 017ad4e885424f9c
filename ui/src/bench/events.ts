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
  grams: 'scent in, grams',
  unscented: 'left unscented',
  stick: 'stick-blended, seconds',
  hand: 'stirred by hand, seconds',
  thicken: 'thickened on purpose, seconds',
  loosen: 'stirred loose, seconds',
  temperature: 'temperature, °C',
  pouring: 'pouring began',
  ended: 'mould full',
  spare: 'into a spare mould',
  pause: 'hands off',
  resume: 'hands on again',
  'layer stands': 'layer stands',
  'layer wet': 'layer: film, but wet',
  'layer slumps': 'layer slumps',
  ...FLAGS,
  smooth: 'nothing else went wrong',
  'remark watery-top': 'watery on top',
  'remark odd-colour': 'an odd colour',
  'remark smell': 'smells odd',
  'remark lumps': 'lumps',
  'remark air': 'air bubbles',
  'remark spilled': 'spilled',
  'remark residue': 'residue poured on',
  'remark ran-short': 'ran short',
  'remark words': 'a note in words',
}
export const VALUED = new Set(['stick', 'hand', 'thicken', 'loosen', 'grams', 'temperature'])
export const WORDED = 'remark words'
export const WHOLE = new Set(['split', 'pouring', 'ended', 'smooth', 'temperature', 'pause', 'resume'])

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

/** What can be written in of the steps of a plan: each done, or left out. */
export const ofSteps = (steps: readonly { key: string; label: string }[]) =>
  Object.fromEntries(
    steps.flatMap((s) => [
      [`step ${s.key}`, `done: ${s.key}`],
      [`skip ${s.key}`, `left out: ${s.key}`],
    ]),
  )
/** What can be written in of other portions: this one folded into each. */
export const ofFolds = (portions: readonly string[]) =>
  Object.fromEntries(portions.map((p) => [`fold ${p}`, `folded into ${p}`]))

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
  const [verb, ...rest] = row.what.split(' ') as [string, ...string[]]
  const said = rest.join(' ')
  switch (verb) {
    case 'step':
      return { ...base, kind: 'step', step: said, changed: false }
    case 'skip':
      return { ...base, kind: 'skip', step: said }
    case 'fold':
      if (!portion || portion === said) return 'Which portion was folded?'
      return { ...base, kind: 'fold', portion, into: [said] }
    case 'layer':
      return { ...base, kind: 'layer', portion, how: said as Extract<PourEvent, { kind: 'layer' }>['how'] }
    case 'remark': {
      const what = said as Extract<PourEvent, { kind: 'remark' }>['what']
      if (what === 'words' && !row.value.trim()) return 'Words are needed here.'
      return { ...base, kind: 'remark', portion, what, says: what === 'words' ? row.value.trim() : '' }
    }
  }
  switch (row.what) {
    case 'split':
    case 'pouring':
    case 'ended':
    case 'smooth':
    case 'pause':
    case 'resume':
      return { ...base, kind: row.what }
    case 'spare':
      return { ...base, kind: 'spare', portion }
    case 'grams':
      return { ...base, kind: 'scent', portion, grams: value, share: null }
    case 'thicken':
      return { ...base, kind: 'work', tool: 'stick', portion, seconds: value, purpose: 'thicken' }
    case 'loosen':
      return { ...base, kind: 'work', tool: 'hand', portion, seconds: value, purpose: 'loosen' }
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
