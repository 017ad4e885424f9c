/** Of many portions, those there is room for: the ones that come to medium first. */
import type { PourView } from '../api/client'

type Forecast = PourView['forecast']

export function soonest(forecast: Forecast, room: number): Forecast {
  if (forecast.lanes.length <= room) return forecast
  const medium = (i: number) => forecast.lanes[i]?.stages[1]?.time.q50 ?? 0
  const order = forecast.lanes.map((_, i) => i).sort((a, b) => medium(a) - medium(b))
  const kept = order.slice(0, room).sort((a, b) => a - b)
  const placed = (lanes: readonly number[]) =>
    lanes.flatMap((i) => (kept.includes(i) ? [kept.indexOf(i)] : []))
  return {
    ...forecast,
    lanes: forecast.lanes.filter((_, i) => kept.includes(i)),
    // A step names its portions by their place among the lanes.
    steps: forecast.steps.map((step) => {
      const at = step.portions.map((_, n) => n).filter((n) => kept.includes(step.portions[n] as number))
      return {
        ...step,
        portions: at.map((n) => kept.indexOf(step.portions[n] as number)),
        each: at.map((n) => step.each[n] as number),
        puts: step.puts.length ? at.map((n) => step.puts[n] as number) : [],
        risky: placed(step.risky),
        thin: placed(step.thin),
      }
    }),
  }
}
