/** Taps: the outbox and the bench's clock, with a server that is away, slow, or refuses. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { PourEvent, PourView } from '../src/api/client'
import { alone, Server, settle } from './server'

vi.mock('@tanstack/vue-query', async (original) => ({
  ...(await original<typeof import('@tanstack/vue-query')>()),
  useQueryClient: () => ({ invalidateQueries: () => undefined }),
}))

let server: Server
let n = 0
let id = ''
let minute = 0
let taken: PourEvent[] = []
let ended: () => void = () => undefined
const view = (): PourView => {
  const gone = new Set(taken.flatMap((e) => (e.kind === 'undo' ? [e.target] : [])))
  const events = taken
    .filter((e) => e.kind !== 'undo' && !gone.has(e.id))
    .map((event) => ({ event, label: event.kind }))
  return {
    id,
    minute,
    ended: null,
    events,
    doubts: [],
    recipe: { design: { portions: [] } },
  } as unknown as PourView
}
const kinds = (events: { kind: string; stage?: string }[]) => events.map((e) => e.stage ?? e.kind)
/** The server takes whatever comes, once. */
function take(body: Record<string, unknown>): [number, unknown] {
  const event = body.event as PourEvent
  if (!taken.some((e) => e.id === event.id)) taken.push(event)
  return [200, view()]
}
type Modules = typeof import('../src/bench/usePour') & typeof import('../src/keep/outbox')
/** The app as a fresh page has it: modules new, what the browser keeps as it was. */
async function page(): Promise<Modules> {
  vi.resetModules()
  const [{ usePour }, { outbox }] = [await import('../src/bench/usePour'), await import('../src/keep/outbox')]
  await outbox.start()
  return { usePour, outbox }
}
async function bench() {
  const app = await page()
  const { it: pour, end } = alone(() => app.usePour(id))
  ended = end
  await settle()
  return { pour, ...app }
}
const stage = (s: 'light' | 'medium' | 'thick') =>
  ({ kind: 'seen', portion: null, stage: s, turned: false }) as const
const POST = 'POST /api/pours'

beforeEach(() => {
  server = new Server()
  id = `pour-${n++}`
  minute = 3
  taken = []
  server.readily['GET /api/pours'] = () => [200, view()]
})
afterEach(async () => {
  server.readily[POST] = (body) => take(body)
  await settle()
  ended()
  vi.useRealTimers()
  vi.restoreAllMocks()
})

describe('the outbox', () => {
  it('keeps taps over a restart and sends them in order from any page', async () => {
    const { pour } = await bench()
    server.readily[POST] = () => [503, {}]
    for (const s of ['light', 'medium', 'thick'] as const) pour.tap(stage(s))
    await settle()
    expect([taken.length, pour.waiting.value.length]).toEqual([0, 3])
    ended()
    server.readily[POST] = (body) => take(body)
    const { outbox } = await page() // no bench is open
    await settle()
    expect([kinds(taken), outbox.entries.value.length]).toEqual([['light', 'medium', 'thick'], 0])
  })

  it('lists what cannot be read until it is put away, and sends the rest', async () => {
    const { pour, outbox } = await bench()
    server.readily[POST] = (body) =>
      (body.event as { stage?: string }).stage === 'medium'
        ? [
            422,
            {
              status: 422,
              detail: 'no',
              errors: [{ pointer: '', message: 'not this', mends: [], open: false }],
            },
          ]
        : take(body)
    for (const s of ['light', 'medium', 'thick'] as const) pour.tap(stage(s))
    await settle()
    expect([kinds(taken), outbox.refused.value.map((t) => t.refused)]).toEqual([
      ['light', 'thick'],
      ['not this'],
    ])
    const { outbox: again } = await page()
    expect(again.refused.value.length, 'after a restart too').toBe(1)
    const refused = again.refused.value[0]
    if (refused) await again.putAway(refused)
    expect(again.entries.value.length).toBe(0)
  })

  it('sets a tap aside that the server fails at, and lets all others pass', async () => {
    const { pour, outbox } = await bench()
    server.readily[POST] = (body, path) =>
      path.includes(id) && (body.event as { stage?: string }).stage === 'light'
        ? [500, { status: 500, detail: 'our mistake' }]
        : take(body)
    pour.tap(stage('light'))
    await settle()
    pour.tap(stage('medium'))
    await outbox.put('another pour', { ...stage('thick'), id: 'x', minute: 1, sure: false } as PourEvent)
    await settle()
    expect(kinds(taken), 'another pour waits for nothing of this one').toEqual(['thick'])
    for (let n = 0; n < 3; n++) await outbox.drain()
    expect([kinds(taken), outbox.refused.value.map((t) => t.refused)]).toEqual([
      ['thick', 'medium'],
      ['our mistake'],
    ])
    server.readily[POST] = (body) => take(body)
    if (outbox.refused.value[0]) await outbox.again(outbox.refused.value[0])
    expect([kinds(taken), outbox.entries.value.length]).toEqual([['thick', 'medium', 'light'], 0])
  })

  it('takes back two taps made while the server was away', async () => {
    const { pour } = await bench()
    server.readily[POST] = () => [503, {}]
    for (const s of ['light', 'medium', 'thick'] as const) pour.tap(stage(s))
    await settle()
    pour.undo()
    pour.undo()
    await settle()
    expect(kinds(pour.standing.value)).toEqual(['light'])
    server.readily[POST] = (body) => take(body)
    await (await page()).outbox.drain()
    expect(kinds(view().events.map((e) => e.event))).toEqual(['light'])
  })

  it('undoes a tap whose answer was lost, and leaves the one after it', async () => {
    const { pour, outbox } = await bench()
    server.readily = { 'GET /api/pours': () => [200, view()] }
    pour.tap(stage('light'))
    await settle()
    const first = server.next('POST', '/api/pours')
    take(first.body) // it arrived, but the answer is lost
    await first.lose()
    pour.undo()
    pour.tap(stage('medium'))
    server.readily[POST] = (body) => take(body)
    await outbox.drain()
    await settle()
    expect(kinds(view().events.map((e) => e.event))).toEqual(['medium'])
    expect(taken.length).toBe(3)
  })

  it('sends a tap the browser cannot keep, and says so', async () => {
    const { pour, outbox } = await bench()
    const store = await import('../src/keep/store')
    vi.spyOn(store.taps, 'put').mockRejectedValue(new DOMException('full', 'QuotaExceededError'))
    server.readily[POST] = () => [503, {}]
    pour.tap(stage('light'))
    await settle()
    expect([outbox.trouble.value !== '', pour.waiting.value.length]).toEqual([true, 1])
    server.readily[POST] = (body) => take(body)
    await outbox.drain()
    expect([kinds(taken), pour.waiting.value.length]).toEqual([['light'], 0])
  })

  it('sends one tap at once, and the tap after it only when the other tabs are done', async () => {
    const { pour } = await bench()
    const asked: (() => void)[] = []
    const request = (_name: string, _how: unknown, work: (lock: object) => unknown) =>
      new Promise((done) => asked.push(() => done(work({}))))
    vi.stubGlobal('navigator', { locks: { request } })
    server.readily[POST] = () => [503, {}]
    pour.tap(stage('light'))
    await settle()
    expect(asked.length, 'the server is away: nothing is left to ask the others for').toBe(0)
    pour.tap(stage('medium'))
    await settle()
    server.readily[POST] = (body) => take(body)
    expect([kinds(taken), asked.length]).toEqual([[], 1])
    for (const granted of asked.splice(0)) granted()
    await settle()
    expect(kinds(taken)).toEqual(['light', 'medium'])
    pour.tap(stage('thick'))
    await settle()
    expect(kinds(taken), 'while no lock is granted').toEqual(['light', 'medium', 'thick'])
    vi.unstubAllGlobals()
  })

  it('sends a tap while the browser is slow to keep it, and leaves nothing of it behind', async () => {
    const { pour, outbox } = await bench()
    const { taps } = await import('../src/keep/store')
    const whole = taps.put
    let goOn: () => void = () => undefined
    vi.spyOn(taps, 'put').mockImplementationOnce(async (tap) => {
      const kept = whole(tap) // asked of the browser now, answered late
      await new Promise<void>((done) => (goOn = done))
      return kept
    })
    server.readily[POST] = (body) => take(body)
    pour.tap(stage('light'))
    await settle()
    expect([kinds(taken), outbox.entries.value.length]).toEqual([['light'], 0])
    goOn()
    await settle()
    expect([await taps.all(), outbox.trouble.value]).toEqual([[], ''])
  })
})

describe('the bench', () => {
  it('never goes blank but for a pour that is not there', async () => {
    const { pour } = await bench()
    server.readily['GET /api/pours'] = () => [503, {}]
    await pour.look()
    expect([pour.view.value?.id, pour.offline.value, pour.missing.value]).toEqual([id, true, null])
    server.readily['GET /api/pours'] = () => [404, { status: 404, detail: 'There is no such pour.' }]
    await pour.look()
    expect(pour.missing.value).toContain('no such pour')
  })

  it('opened while the server is away recovers by itself', async () => {
    server.readily['GET /api/pours'] = () => [503, {}]
    const { pour } = await bench()
    expect([pour.view.value, pour.offline.value]).toEqual([null, true])
    server.readily['GET /api/pours'] = () => [200, view()]
    await new Promise((done) => setTimeout(done, 2300))
    expect([pour.view.value?.id, pour.offline.value]).toEqual([id, false])
  })

  it('tells the minute of a tap by its running time, and by the server after a sleep', async () => {
    vi.useFakeTimers({ toFake: ['Date', 'performance'] })
    const { pour } = await bench()
    server.readily[POST] = (body) => take(body)
    vi.advanceTimersByTime(60_000)
    minute = 2 // the server's clock was set back
    await pour.look()
    pour.tap(stage('light'))
    await settle()
    expect(taken[0]?.minute).toBeCloseTo(4, 2)
    vi.setSystemTime(Date.now() + 600_000) // the device slept: its running time stood still
    minute = 14
    pour.tap(stage('medium'))
    await settle()
    expect(taken[1]?.minute).toBeCloseTo(14, 2)
    vi.setSystemTime(Date.now() + 3_960_000) // its clock was set
    pour.tap(stage('thick'))
    await settle()
    expect([taken[2]?.minute.toFixed(2), pour.jump.value]).toEqual(['14.00', null])
  })

  it('asks which minute it is when its clock parted from its running time and nothing answers', async () => {
    vi.useFakeTimers({ toFake: ['Date', 'performance'] })
    const { pour, outbox } = await bench()
    server.readily['GET /api/pours'] = () => [503, {}]
    server.readily[POST] = () => [503, {}]
    await pour.look()
    vi.setSystemTime(Date.now() + 600_000)
    await new Promise((done) => setTimeout(done, 400))
    expect(pour.jump.value).toBeCloseTo(13, 2)
    pour.tap(stage('light'))
    pour.hold(pour.jump.value ?? 0)
    pour.tap(stage('medium'))
    await settle()
    expect(pour.waiting.value.map((t) => Math.round(t.event.minute))).toEqual([3, 13])
    expect(pour.jump.value).toBeNull()
    server.readily[POST] = (body) => take(body)
    await outbox.drain()
  })

  it('opened anew while nothing answers shows what it last knew, and takes taps', async () => {
    await bench()
    ended()
    server.readily['GET /api/pours'] = () => [503, {}]
    server.readily[POST] = () => [503, {}]
    const { pour, outbox } = await bench()
    expect([pour.view.value?.id, pour.offline.value]).toEqual([id, true])
    pour.tap(stage('light'))
    await settle()
    expect(kinds(pour.standing.value)).toEqual(['light'])
    server.readily[POST] = (body) => take(body)
    await outbox.drain()
  })
})
