/** Steps of a plan moved by hand or by keys: carried along the axis, drawn out at the right end, or taken away. */
import { nextTick, ref, watch, type Ref } from 'vue'
import type { Forecast } from '../api/client'
import { perMinute, type Axis } from '../ribbon/axis'

interface Drag {
  row: number
  /** px it was carried. */
  by: number
  kind: 'move' | 'time'
  from: number
  begun: boolean
  /** Carried so far from the ribbon that it is taken out. */
  off: boolean
}
const AWAY = 70 // px beyond the ribbon from which a step is taken out
const BEGINS = 4 // px from which a press is a drag

export interface Moves {
  choose: (row: number) => void
  leave: () => void
  move: (row: number, to: number) => void
  time: (row: number, times: number) => void
  take: (row: number) => void
  add: (row: number) => void
}

export function useHand(
  box: Ref<HTMLElement | null>,
  forecast: () => Forecast,
  axis: Ref<Axis>,
  moves: Moves,
) {
  const drag = ref<Drag | null>(null)
  function away(event: PointerEvent) {
    const ends = box.value?.getBoundingClientRect()
    return !!ends && (event.clientY < ends.top - AWAY || event.clientY > ends.bottom + AWAY)
  }
  function grab(event: PointerEvent, row: number, kind: 'move' | 'time') {
    if (event.button !== 0) return
    drag.value = { row, by: 0, kind, from: event.clientX, begun: false, off: false }
    const target = event.currentTarget as HTMLElement
    target.setPointerCapture(event.pointerId)
  }
  function pull(event: PointerEvent) {
    if (!drag.value) return
    drag.value.off = away(event)
    drag.value.by = event.clientX - drag.value.from
    drag.value.begun ||= Math.abs(drag.value.by) > BEGINS || drag.value.off
  }
  let swallow = false
  function drop() {
    const d = drag.value
    drag.value = null
    if (!d || !d.begun) return
    swallow = true
    const step = forecast().steps[d.row]
    if (!step) return
    if (d.off && d.kind === 'move') {
      moves.take(d.row)
      return
    }
    const by = d.by / perMinute(axis.value)
    if (d.kind === 'time') moves.time(d.row, Math.max(1 + by / Math.max(step.takes.q50, 0.05), 0))
    else {
      const middle = (step.start + step.end) / 2 + by
      const others = forecast().steps.filter((_, i) => i !== d.row)
      const to = others.filter((s) => (s.start + s.end) / 2 < middle).length
      if (to !== d.row) moves.move(d.row, to)
    }
  }
  const moved = (row: number) => (drag.value?.row === row && drag.value.begun ? drag.value : null)
  /** The click that ends a drag chooses nothing. */
  function choose(row: number) {
    if (swallow) {
      swallow = false
      return
    }
    moves.choose(row)
  }

  // A step that was moved by keys keeps the focus when it stands at its new place.
  let follows: string | null = null
  watch(forecast, async () => {
    if (!follows) return
    const row = forecast().steps.findIndex((s) => s.key === follows)
    follows = null
    await nextTick()
    if (row >= 0) go(row)
  })
  function go(row: number) {
    const found = box.value?.querySelector<HTMLElement>(`[data-row="${row}"]`)
    found?.focus()
  }
  function key(event: KeyboardEvent, row: number) {
    const step = forecast().steps[row]
    if (!step) return
    const last = forecast().steps.length - 1
    const by = event.key === 'ArrowLeft' || event.key === 'ArrowUp' ? -1 : 1
    if (['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'].includes(event.key)) {
      event.preventDefault()
      const to = Math.min(Math.max(row + by, 0), last)
      if (event.altKey && to !== row) {
        follows = step.key
        moves.move(row, to)
      } else go(to)
    } else if (event.key === '+' || event.key === '-') moves.time(row, event.key === '+' ? 1.25 : 0.8)
    else if (event.key === 'Delete' || event.key === 'Backspace') moves.take(row)
    else if (event.key === 'Insert') moves.add(row)
    else if (event.key === 'Escape') moves.leave()
  }
  return { grab, pull, drop, cancel: () => (drag.value = null), moved, choose, key }
}
