/** The minutes axis that ribbons share: where a minute stands, and its ticks. Hours of waiting are folded together. */

export interface Axis {
  /** Minutes at its end. */
  minutes: number
  left: number
  width: number
  /** Stretches (from, to) that take FOLD px however long they are. */
  folds?: readonly (readonly [number, number])[]
}

export const FOLD = 46

const folded = (axis: Axis, to: number) =>
  (axis.folds ?? []).reduce((sum, [a, b]) => sum + Math.min(Math.max(to - a, 0), b - a), 0)

/** Pixels of a minute that is not folded. */
export const perMinute = (axis: Axis) =>
  Math.max(axis.width - FOLD * (axis.folds?.length ?? 0), 1) /
  Math.max(axis.minutes - folded(axis, axis.minutes), 1e-6)

export function at(axis: Axis, minute: number): number {
  const m = Math.min(Math.max(minute, 0), axis.minutes)
  const folds = (axis.folds ?? []).reduce(
    (sum, [a, b]) => sum + FOLD * Math.min(Math.max((m - a) / (b - a), 0), 1),
    0,
  )
  return axis.left + (m - folded(axis, m)) * perMinute(axis) + folds
}

/** Ticks at even minutes, at least `room` px apart, none within a fold. */
export function ticksOf(axis: Axis, room: number): number[] {
  const every = [1, 2, 4, 5, 10, 20, 30, 60].find((t) => t * perMinute(axis) >= room) ?? 60
  const within = (t: number) => (axis.folds ?? []).some(([a, b]) => t > a && t < b)
  const all = Array.from({ length: Math.floor(axis.minutes / every) + 1 }, (_, i) => i * every)
  return all.filter((t) => !within(t))
}

/** Stops of a lane's gradient from the axis' start to its end: the batter's mean level through `minutes`. */
export const stopsOf = (
  axis: Axis,
  shades: readonly number[],
  minutes: number,
  colour: (level: number) => string,
) =>
  shades.map((level, n) => {
    const x = at(axis, (minutes * n) / (shades.length - 1))
    return { at: `${((100 * (x - axis.left)) / axis.width).toFixed(2)}%`, colour: colour(level) }
  })
