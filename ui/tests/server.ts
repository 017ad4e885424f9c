/** A server that answers when the test says so: what the composables see of it is `fetch` alone. */
import { vi } from 'vitest'
import { effectScope } from 'vue'

export interface Asked {
  method: string
  path: string
  body: Record<string, unknown>
  answer: (status: number, body?: unknown) => Promise<void>
  lose: () => Promise<void>
}

/** Lets everything that waits on an answer go on. */
export async function settle() {
  for (let i = 0; i < 30; i++) await new Promise((done) => setTimeout(done, 0))
}

export class Server {
  asked: Asked[] = []
  /** Answers by itself, by method and the beginning of the path; anything else waits for the test. */
  readily: Record<string, (body: Record<string, unknown>, path: string) => [number, unknown]> = {}

  constructor() {
    vi.stubGlobal('fetch', (request: Request) => this.hear(request))
  }

  private async hear(request: Request): Promise<Response> {
    const path = new URL(request.url, 'http://here').pathname
    const text = request.method === 'GET' ? '' : await request.text()
    const body = (text ? JSON.parse(text) : {}) as Record<string, unknown>
    const reply = (status: number, answer: unknown) =>
      new Response(JSON.stringify(answer), { status, headers: { 'Content-Type': 'application/json' } })
    const ready = Object.entries(this.readily).find(([key]) => `${request.method} ${path}`.startsWith(key))
    if (ready) return reply(...ready[1](body, path))
    return new Promise((resolve, reject) => {
      request.signal.addEventListener('abort', () => reject(new DOMException('aborted', 'AbortError')))
      this.asked.push({
        method: request.method,
        path,
        body,
        answer: (status, answer = {}) => (resolve(reply(status, answer)), settle()),
        lose: () => (reject(new TypeError('no answer')), settle()),
      })
    })
  }

  /** The one request of this kind that waits for an answer. */
  next(method: string, path: string): Asked {
    const at = this.asked.findIndex((a) => a.method === method && a.path.startsWith(path))
    if (at < 0)
      throw new Error(
        `no ${method} ${path} waits, only ${this.asked.map((a) => `${a.method} ${a.path}`).join(', ')}`,
      )
    return this.asked.splice(at, 1)[0] as Asked
  }
  waiting = (method: string, path: string) =>
    this.asked.filter((a) => a.method === method && a.path.startsWith(path)).length
}

/** A composable in a scope of its own, and the end of that scope. */
export function alone<T>(make: () => T): { it: T; end: () => void } {
  const scope = effectScope()
  const it = scope.run(make) as T
  return { it, end: () => scope.stop() }
}
