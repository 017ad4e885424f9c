/** A batch at rest: taps at the server's time, kept while it is away; windows drawn where they are. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createApp, effectScope, nextTick } from 'vue'
import BatchStrip from '../src/ribbon/BatchStrip.vue'
import GelSections from '../src/rest/GelSections.vue'
import WeighForm from '../src/rest/WeighForm.vue'
import { Server, settle } from './server'

const MINUTE = 26 * 60
let server: Server
let taken: Record<string, unknown>[] = []
let away = false
let stop: () => void = () => undefined
let n = 0

const view = (id: string) => ({
  id,
  started: new Date(Date.now() - MINUTE * 60_000).toISOString(),
  ended_at: new Date(Date.now() - (MINUTE - 20) * 60_000).toISOString(),
  minute: MINUTE,
  ended: 20,
  fresh: true,
  now: { hours: (MINUTE - 20) / 60, next: [], keys: [] },
})

async function rest() {
  vi.resetModules()
  const { useRest } = await import('../src/rest/useRest')
  const { outbox } = await import('../src/keep/outbox')
  await outbox.start()
  const id = `rest-${n++}`
  server.readily[`GET /api/pours/${id}/rest`] = () => (away ? [503, { title: 'away' }] : [200, view(id)])
  server.readily[`GET /api/pours/${id}/sections`] = () => [200, { sections: [] }]
  const app = createApp({ render: () => null })
  app.use(VueQueryPlugin, { queryClient: new QueryClient({ defaultOptions: { queries: { retry: false } } }) })
  const scope = effectScope()
  const made = app.runWithContext(() => scope.run(() => useRest(id))) as ReturnType<typeof useRest>
  stop = () => scope.stop()
  await settle()
  return { rest: made, outbox, id }
}

beforeEach(() => {
  server = new Server()
  taken = []
  away = false
  server.readily['POST /api/pours'] = (body) => {
    if (away) return [503, { title: 'away' }]
    taken.push(body.event as Record<string, unknown>)
    return [200, { events: [], doubts: [] }]
  }
})
afterEach(() => {
  stop()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('what is tapped at rest', () => {
  it('is at the minute the server told, and what this device ran on since', async () => {
    const { rest: made } = await rest()
    await made.tap({ kind: 'cut', how: 'clean', tool: 'wire' })
    await settle()
    const [event] = taken
    expect(event?.kind).toBe('cut')
    expect(Math.abs(Number(event?.minute) - MINUTE)).toBeLessThan(0.2)
    expect(Math.abs(made.hours.value - (MINUTE - 20) / 60)).toBeLessThan(0.01)
  })
  it('is at an earlier time where that was said, once', async () => {
    const { rest: made } = await rest()
    const at = new Date(Date.now() - 3 * 3_600_000)
    made.earlier.value = new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16)
    await made.tap({ kind: 'unmould', how: 'clean' })
    await made.tap({ kind: 'gel', how: 'none' })
    await settle()
    const [first, second] = taken.map((e) => Number(e.minute))
    expect(Math.abs((first as number) - (MINUTE - 180))).toBeLessThan(1.1)
    expect(Math.abs((second as number) - MINUTE)).toBeLessThan(0.2)
  })
  it('waits here while the server is away, and is taken back by an event of its own', async () => {
    const { rest: made, outbox, id } = await rest()
    away = true
    await made.tap({ kind: 'weigh', bar: '1', grams: 120 })
    await settle()
    expect(made.waiting.value).toBe(1)
    expect(taken).toEqual([])
    await made.undo(String(outbox.of(id)[0]?.event.id))
    away = false
    await outbox.drain()
    await settle()
    expect(taken.map((e) => e.kind)).toEqual(['weigh', 'undo'])
    expect(taken[1]?.target).toBe(taken[0]?.id)
    expect(made.waiting.value).toBe(0)
  })
})

/** A component on a page of its own, and what it tells. */
function shown(component: object, props: Record<string, unknown>) {
  const at = document.createElement('div')
  document.body.append(at)
  const app = createApp(component, props)
  app.use(VueQueryPlugin)
  app.mount(at)
  return at
}

describe('parts of the rest', () => {
  const section = (wrap: string, odds: number) => ({
    wrap,
    cells: Array.from({ length: 6 }, () => Array.from({ length: 12 }, () => odds)),
    none: 1 - odds,
    ring: 0,
    full: odds,
    peak: 60,
    overheats: 0,
    message: 'gels through, 9 in 10',
    colours: 'colours deepen',
  })
  it('a section is solid where it likely gels, hatched where it may, blank where not; a tap chooses', async () => {
    const chosen: string[] = []
    const at = shown(GelSections, {
      sections: [section('cold', 0.05), section('covered', 0.4), section('oven', 0.95)],
      cover: 'oven-off',
      open: true,
      onChoose: (wrap: string) => chosen.push(wrap),
    })
    const areas = [...at.querySelectorAll('button')].map((b) =>
      [...b.querySelectorAll('path')].slice(0, 2).map((p) => (p.getAttribute('d') ?? '').length > 0),
    )
    expect(areas).toEqual([
      [false, false],
      [true, false],
      [true, true],
    ])
    const [, covered, oven] = [...at.querySelectorAll('button')]
    expect(oven?.getAttribute('aria-pressed')).toBe('true')
    covered?.click()
    await nextTick()
    expect(chosen).toEqual(['covered'])
  })
  it('a weight that is none is said beside its field and not lost', async () => {
    const told: Record<string, unknown>[] = []
    const at = shown(WeighForm, { bars: [], onTap: (e: Record<string, unknown>) => told.push(e) })
    const field = at.querySelector('[aria-label^="Weight"]') as HTMLInputElement
    const weigh = async (text: string) => {
      field.value = text
      field.dispatchEvent(new Event('input'))
      await nextTick()
      at.querySelector('form')?.dispatchEvent(new Event('submit', { cancelable: true }))
      await nextTick()
    }
    for (const text of ['', 'much', '0', '60000']) {
      await weigh(text)
      expect(at.querySelector('[role=alert]')?.textContent, text).toBeTruthy()
      expect(field.value).toBe(text)
    }
    await weigh('121,5')
    expect(told).toEqual([{ kind: 'weigh', bar: '1', mould: 0, grams: 121.5 }])
    expect(field.value).toBe('')
  })
  it('a strip stands on one axis: what was seen ends where it ended', () => {
    const at = shown(BatchStrip, {
      foretold: { middles: [5, 10, 20, 30], spans: [], pour: { low: 4, high: 8 }, drawn: 0.6 },
      seen: { looks: [{ minute: 6, level: 3 }], pour: null, end: 15 },
      minutes: 30,
    })
    const strip = at.querySelector('[role=img]') as HTMLElement
    expect(strip.getAttribute('aria-label')).toBe('Seen: medium at 6.0 min')
    const seen = [...strip.querySelectorAll('span')].find((s) => s.style.width === '50%')
    expect(seen).toBeTruthy()
    expect([...strip.querySelectorAll('span')].some((s) => s.style.left === '20%')).toBe(true)
  })
})
