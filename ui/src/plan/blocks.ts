/** Steps of a plan as blocks on the ribbon: one tall block for neighbouring lanes, the mould's own on its own lane. */
import type { Forecast, StepForecast } from '../api/client'
import { at, type Axis } from '../ribbon/axis'

export interface Block {
  key: string
  row: number
  step: StepForecast
  /** First and last lane it stands on; the mould's lane comes after all others. */
  from: number
  to: number
  odds: number
  thick: number
  thin: number
  lost: number
  risky: boolean
  x: number
  width: number
  prepares: boolean
}

const runs = (lanes: readonly number[]): [number, number][] => {
  const out: [number, number][] = []
  for (const lane of [...lanes].sort((a, b) => a - b)) {
    const last = out.at(-1)
    if (last && last[1] === lane - 1) last[1] = lane
    else out.push([lane, lane])
  }
  return out
}

export function blocksOf(forecast: Forecast, axis: Axis): Block[] {
  const mould = forecast.lanes.length
  return forecast.steps.flatMap((step, row) => {
    const { prepares, on_mould: onMould } = step
    const spans: [number, number][] = onMould
      ? [[mould, mould]]
      : step.portions.length
        ? runs(step.portions)
        : [[0, mould - 1]]
    const wanting = step.too_thick + step.too_thin + step.too_late
    return spans.map(([from, to], n) => {
      const mine = step.portions.flatMap((lane, i) => (lane >= from && lane <= to ? [step.each[i] ?? 1] : []))
      const whole = onMould || spans.length === 1 || !mine.length
      const odds = whole ? step.odds : mine.reduce((a, b) => a + b, 0) / mine.length
      const scale = wanting > 0 ? (1 - odds) / wanting : 0
      const x = at(axis, step.start)
      return {
        key: `${step.key}|${n}`,
        row,
        step,
        from,
        to,
        odds,
        thick: step.too_thick * scale,
        thin: (step.too_thin + step.too_late) * scale,
        lost: step.lost,
        risky: !prepares && (onMould ? step.risky.length > 0 : step.risky.some((l) => l >= from && l <= to)),
        x,
        width: Math.max(at(axis, step.end) - x, 3),
        prepares,
      }
    })
  })
}

export interface Fill {
  tint: string
  points: string
}

/** What stands in the mould through time, in the portions' colours, as polygons of `height` px from `foot` up. */
export function fills(forecast: Forecast, axis: Axis, foot: number, height: number): Fill[] {
  const pours = forecast.steps.flatMap((step) =>
    step.puts.map((share, n) => ({
      start: step.start,
      end: step.end,
      share,
      lane: step.portions[n] as number,
    })),
  )
  const end = axis.minutes
  let below: [number, number][] = [
    [0, 0],
    [end, 0],
  ]
  return pours.map((pour) => {
    // The height at a minute is what lies below, and this pour as far as it has come.
    const times = [...new Set([0, pour.start, pour.end, ...below.map(([t]) => t), end])].sort((a, b) => a - b)
    const lies = (t: number) => {
      const next = below.findIndex(([u]) => u >= t)
      const [u1, h1] = below[Math.max(next - 1, 0)] as [number, number]
      const [u2, h2] = below[next < 0 ? below.length - 1 : next] as [number, number]
      return u2 > u1 ? h1 + ((t - u1) / (u2 - u1)) * (h2 - h1) : h2
    }
    const come = (t: number) =>
      pour.share * Math.min(Math.max((t - pour.start) / Math.max(pour.end - pour.start, 1e-6), 0), 1)
    const over = times.map((t): [number, number] => [t, lies(t) + come(t)])
    const point = ([t, h]: [number, number]) => `${at(axis, t).toFixed(1)},${(foot - h * height).toFixed(1)}`
    const points = [...times.map((t): [number, number] => [t, lies(t)]).reverse(), ...over]
      .map(point)
      .join(' ')
    below = over
    return { tint: forecast.lanes[pour.lane]?.tint ?? '#888888', points }
  })
}
