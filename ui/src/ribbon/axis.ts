/** The minutes axis that ribbons share: where a minute stands, and its ticks. */

export interface Axis {
  /** Minutes at its end. */
  minutes: number
  left: number
  width: number
}

export const at = (axis: Axis, minute: number) =>
  axis.left + (Math.min(Math.max(minute, 0), axis.minutes) / axis.minutes) * axis.width

export const minuteAt = (axis: Axis, x: number) => ((x - axis.left) / axis.width) * axis.minutes

/** Ticks at even minutes, at least `room` px apart. */
export function ticksOf(axis: Axis, room: number): number[] {
  const fit = Math.max(axis.width / room, 1)
  const every = [1, 2, 4, 5, 10, 20, 30, 60].find((t) => axis.minutes / t <= fit) ?? 60
  return Array.from({ length: Math.floor(axis.minutes / every) + 1 }, (_, i) => i * every)
}

/** Stops of a lane's gradient: the batter's mean level through time. */
export const stopsOf = (shades: readonly number[], colour: (level: number) => string) =>
  shades.map((level, n) => ({
    at: `${((100 * n) / (shades.length - 1)).toFixed(2)}%`,
    colour: colour(level),
  }))
