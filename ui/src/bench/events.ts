/** What can be written down of a pour, in the words of the bench. */
import { ownUnit, readNumber } from '../support/quantity'
import type { PourEvent, Schemas } from '../api/client'
import { newId } from '../support/newId'

type Flag = Extract<PourEvent, { kind: 'flag' }>['flag']
export const FLAGS: Record<Flag, string> = {
  ricing: 'ricing',
  seizing: 'seized',
  separation: 'oil weeps',
  'false-trace': 'false trace',
  overheating: 'overheats',
  soup: 'will not thicken',
}

type Remark = Extract<PourEvent, { kind: 'remark' }>['what']
export const REMARKS: Record<Exclude<Remark, 'words'>, string> = {
  'watery-top': 'watery on top',
  'odd-colour': 'odd colour',
  smell: 'smells odd',
  lumps: 'lumps',
  air: 'air bubbles',
  spilled: 'spilled',
  residue: 'residue poured on',
  'ran-short': 'ran short',
}
type Stood = Extract<PourEvent, { kind: 'layer' }>['how']
export const STOOD: Record<Stood, string> = { stands: 'stands', wet: 'film but wet', slumps: 'slumps' }
const each = (verb: string, words: Record<string, string>, said = (w: string) => w) =>
  Object.fromEntries(Object.entries(words).map(([key, w]) => [`${verb} ${key}`, said(w)]))

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
  get grams() {
    return `scent in, ${ownUnit('g')}`
  },
  unscented: 'left unscented',
  'in-turn': 'scent as each is poured, from then on',
  stick: 'stick-blended, seconds',
  hand: 'stirred by hand, seconds',
  thicken: 'thickened on purpose, seconds',
  loosen: 'stirred loose, seconds',
  get temperature() {
    return `temperature, ${ownUnit('°C')}`
  },
  pouring: 'pouring began',
  ended: 'mould full',
  spare: 'into a spare mould',
  pause: 'hands off',
  resume: 'hands on again',
  ...each('layer', STOOD, (w) => `layer: ${w}`),
  ...FLAGS,
  smooth: 'nothing else went wrong',
  ...each('remark', REMARKS),
  'remark words': 'a note in words',
}
export const VALUED = new Set(['stick', 'hand', 'thicken', 'loosen', 'grams', 'temperature'])
export const WORDED = 'remark words'
export const WHOLE = new Set([
  'split',
  'in-turn',
  'pouring',
  'ended',
  'smooth',
  'temperature',
  'pause',
  'resume',
])

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
  const read = readNumber(row.value, row.what === 'temperature' ? '°C' : row.what === 'grams' ? 'g' : '')
  if (VALUED.has(row.what) && read === null) return 'A number is needed here.'
  const value = read ?? NaN
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
      if (!portion) return 'Which layer was it?'
      return { ...base, kind: 'layer', portion, how: said as Stood }
    case 'remark': {
      const what = said as Remark
      if (what === 'words' && !row.value.trim()) return 'Words are needed here.'
      return { ...base, kind: 'remark', portion, what, says: what === 'words' ? row.value.trim() : '' }
    }
  }
  switch (row.what) {
    case 'split':
    case 'in-turn':
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
