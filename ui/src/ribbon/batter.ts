/** How the batter is drawn: one hue from pale (emulsion) to dark (set), always doubled by the drizzle's trail. */

export const STAGES = ['emulsion', 'light', 'medium', 'thick', 'set'] as const
export type Stage = (typeof STAGES)[number]

const RAMP = ['#f3f5f0', '#dfe8de', '#b9cfc6', '#83aaa3', '#457977', '#1d4850']

/** Colour of a level: 0 combined, 1 emulsion … 5 set; anything between is between. */
export function shade(level: number): string {
  const at = Math.min(Math.max(level, 0), 5)
  const low = Math.min(Math.floor(at), 4)
  const part = at - low
  const channel = (i: number) => {
    const from = parseInt((RAMP[low] as string).slice(i, i + 2), 16)
    const to = parseInt((RAMP[low + 1] as string).slice(i, i + 2), 16)
    return Math.round(from + part * (to - from))
      .toString(16)
      .padStart(2, '0')
  }
  return `#${channel(1)}${channel(3)}${channel(5)}`
}

/** Ink that reads on a level's shade. */
export const inkOn = (level: number) => (level >= 3.6 ? '#f7f8f5' : '#17232a')

/** The trail a drizzle leaves, in a 24 × 12 box: none, sinking, standing, ridge, peak. */
export const TRAIL: Record<Stage, string> = {
  emulsion: 'M3 9.5H21',
  light: 'M3 9.5C8 9.5 8.5 7.5 12 7.5S16 9.5 21 9.5',
  medium: 'M3 9.5C8 9.5 8 5 12 5S16 9.5 21 9.5',
  thick: 'M3 9.5H6.5C8.5 9.5 8 2.5 12 2.5S15.5 9.5 17.5 9.5H21',
  set: 'M3 9.5H6L12 1.5L18 9.5H21',
}

/** When a stage that is to come was forecast without the taps, where they moved it by enough to be seen. */
export const movedFrom = (
  s: { seen: number | null; expected: number; time: { q50: number } },
  end: number,
): number | null =>
  s.seen === null && Math.abs(s.expected - s.time.q50) > 0.08 * s.time.q50 && s.expected < end
    ? s.expected
    : null

/** Where in a lane each stage is likeliest, where there is `room` px to draw its trail there. */
export function trailsOf(
  lane: { stages: readonly { time: { q50: number } }[] },
  emulsion: number,
  x: (minute: number) => number,
  end: number,
  room = 32,
) {
  const edges = [emulsion, ...lane.stages.map((s) => s.time.q50), Infinity]
  return STAGES.flatMap((stage, i) => {
    const [from, to] = [x(edges[i] ?? Infinity), x(Math.min(edges[i + 1] ?? Infinity, end))]
    return to - from > room ? [{ stage, at: (from + to) / 2 - 12, ink: inkOn(i + 1) }] : []
  })
}
