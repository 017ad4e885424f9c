/** What is written: refused field by field, never asked twice by a second tap, told when nothing answers. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { beforeEach, describe, expect, it } from 'vitest'
import { createApp } from 'vue'
import { api, fault, take } from '../src/api/client'
import { usePutAway, useWrite } from '../src/api/writes'
import { Server, settle } from './server'

let server: Server
beforeEach(() => (server = new Server()))

/** A composable in a page of its own that asks the server. */
function paged<T>(make: () => T, client = new QueryClient()): T {
  let made: T | undefined
  const app = createApp({ setup: () => ((made = make()), () => null) })
  app.use(VueQueryPlugin, { queryClient: client })
  app.mount(document.createElement('div'))
  return made as T
}
const practice = (speed: number) =>
  take(
    api.PUT('/api/practice/{practice_id}/speed', { params: { path: { practice_id: 'p' } }, body: { speed } }),
  )
const PATH = '/api/practice/p/speed'
const refusal = { detail: 'No.', errors: [fault('/speed', 'Too quick.')], sure: true }

describe('a write', () => {
  it('tells what is wrong at its field until it is asked again, then that it is written', async () => {
    const done: number[] = []
    const write = paged(() => useWrite(practice, { done: (_, speed) => done.push(speed) }))
    const first = write.run(99)
    await settle()
    await server.next('PUT', PATH).answer(422, refusal)
    expect([await first, write.at('/speed'), write.trouble.value, write.asks.value]).toEqual([
      false,
      'Too quick.',
      'Too quick.',
      true,
    ])
    const second = write.run(2)
    await settle()
    expect([write.busy.value, write.faults.value]).toEqual([true, []])
    await server.next('PUT', PATH).answer(200, {})
    expect([await second, write.written.value, done]).toEqual([true, true, [2]])
  })

  it('says that nothing answers, and refuses what is found here without asking', async () => {
    const write = paged(() => useWrite(practice))
    const lost = write.run(1)
    await settle()
    await server.next('PUT', PATH).lose()
    expect([await lost, write.trouble.value]).toEqual([
      false,
      expect.stringContaining('does not answer') as string,
    ])
    expect(write.refuse([fault('/speed', 'Not a number.')])).toBe(true)
    expect([write.trouble.value, server.asked.length]).toEqual(['Not a number.', 0])
    expect([write.refuse([]), write.trouble.value]).toEqual([false, ''])
  })

  it('goes one after another, and twice at once only where that was not ruled out', async () => {
    const [all, once] = paged(() => [useWrite(practice), useWrite(practice, { once: true })])
    const both = [all.run(1), all.run(2)]
    await settle()
    expect(server.waiting('PUT', PATH)).toBe(1)
    await server.next('PUT', PATH).answer(200, {})
    expect(server.next('PUT', PATH).body).toEqual({ speed: 2 })
    const made = once.run(3)
    expect(await once.run(4)).toBe(false)
    await settle()
    await server.next('PUT', PATH).answer(200, {})
    expect([await made, server.asked.length, both.length]).toEqual([true, 0, 2])
  })

  it('is asked of a server on this machine though the browser has no network', async () => {
    const write = paged(() => useWrite(practice))
    window.dispatchEvent(new Event('offline'))
    void write.run(1)
    await settle()
    expect(server.waiting('PUT', PATH)).toBe(1)
    window.dispatchEvent(new Event('online'))
  })

  it('puts out of sight, asks for anew what shows it, and brings back', async () => {
    const client = new QueryClient()
    client.setQueryData(['stock'], 'as it was')
    const lots = paged(() => usePutAway(() => Promise.resolve(), practice as never, ['stock']), client)
    await lots.putAway({ id: 'lot' })
    expect(lots.gone.value).toEqual({ id: 'lot' })
    expect(client.getQueryState(['stock'])?.isInvalidated).toBe(true)
    const back = lots.bringBack('lot')
    await settle()
    await server.next('PUT', PATH).answer(200, {})
    expect([await back, lots.gone.value]).toEqual([true, null])
  })
})
