/** Moments as a maker says them: today, tomorrow, Thursday, 12 December; to the hour where hours matter. */

import { dated } from './dated'

const HOUR = 3_600_000
const DAY = 24 * HOUR

const midnight = (at: Date) => new Date(at.getFullYear(), at.getMonth(), at.getDate()).getTime()
const daysFrom = (now: Date, at: Date) => Math.round((midnight(at) - midnight(now)) / DAY)

/** A day seen from now. */
export function dayWord(at: Date, now: Date): string {
  const days = daysFrom(now, at)
  if (days === 0) return 'today'
  if (days === 1) return 'tomorrow'
  if (days === -1) return 'yesterday'
  if (days > 1 && days < 7) return dated(at, { weekday: 'long' })
  return dated(at, { day: 'numeric', month: 'long' })
}

/** The day a brief is due: that it must be ready on, else that of its sale. */
export function dueWord(
  brief: { ready?: string | null; sale?: string | null } | null | undefined,
  now: Date,
): string {
  const on = brief?.ready || brief?.sale
  return on ? `${brief.ready ? 'ready' : 'on sale'} ${dayWord(new Date(`${on}T12:00:00`), now)}` : ''
}

/** An hour of the day, to the hour. */
export function hourWord(at: Date): string {
  const rounded = new Date(at.getTime() + HOUR / 2)
  const hour = rounded.getHours()
  return hour === 12 ? 'noon' : hour === 0 ? 'midnight' : `${hour}:00`
}

const round = (at: Date) => {
  const on = new Date(at.getTime() + HOUR / 2)
  on.setMinutes(0, 0, 0)
  return on
}

/** A moment, to the hour within two days and to the day beyond. */
export function moment(at: Date, now: Date): string {
  const near = Math.abs(at.getTime() - now.getTime()) < 2 * DAY
  const on = near ? round(at) : at
  if (!near) return dayWord(on, now)
  const days = daysFrom(now, on)
  return days === 0 ? hourWord(at) : `${hourWord(at)} ${dayWord(on, now)}`
}

/** A span of days and hours, each said once. */
export function spanWords(from: Date, to: Date, now: Date): string {
  const [a, b] = [moment(from, now), moment(to, now)]
  if (a === b) return a
  const same = daysFrom(now, round(from)) === daysFrom(now, round(to))
  if (same && Math.abs(to.getTime() - now.getTime()) < 2 * DAY)
    return `${dayWord(round(from), now)} ${hourWord(from)} to ${hourWord(to)}`
  return `${a} to ${b}`
}

export interface Edges {
  first: number
  sure: number
  late: number
  until: number
}

const LONG = 24 * 5 // hours from which a span has no end that matters
const BRIEF = 48 // hours
const open = (n: Edges) => n.late - n.sure > LONG

export type Due = 'later' | 'early' | 'now' | 'late' | 'over'

/** How a window stands at so many hours since the pour. */
export const due = (n: Edges, hours: number): Due =>
  hours < n.first
    ? 'later'
    : hours < n.sure
      ? 'early'
      : hours <= n.late
        ? 'now'
        : hours <= n.until
          ? 'late'
          : 'over'

/** When to do it, after its name: "now, or by noon tomorrow", "Thursday 9:00 to 20:00". */
export function whenWords(n: Edges, ended: Date, now: Date): string {
  const at = (hours: number) => new Date(ended.getTime() + hours * HOUR)
  const hours = (now.getTime() - ended.getTime()) / HOUR
  switch (due(n, hours)) {
    case 'later':
      return open(n)
        ? `from ${moment(at(n.sure), now)}`
        : n.late - n.sure <= BRIEF && n.sure - hours > BRIEF
          ? `about ${moment(at(n.sure), now)}`
          : spanWords(at(n.sure), at(n.late), now)
    case 'early':
      return `soon, best from ${moment(at(n.sure), now)}`
    case 'now':
      return open(n) || n.late - hours > LONG ? 'now' : `now, or by ${moment(at(n.late), now)}`
    case 'late':
      return `now: the best time was ${moment(at(n.late), now)}`
    case 'over':
      return `overdue since ${moment(at(n.until), now)}`
  }
}
