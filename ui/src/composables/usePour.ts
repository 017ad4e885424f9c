/** A pour at the bench: every tap gets its own id, is kept here until the server has it, and is then shown as saved. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import { api, Refused, take, type PourEvent, type PourView } from '../api/client'

const LOOK_EVERY = 8000 // ms between fresh looks at a pour that goes on without taps
const TRY_AGAIN = 1500

type Tap = PourEvent extends infer E
  ? E extends { id: string }
    ? Omit<E, 'id' | 'minute' | 'sure'>
    : never
  : never
export interface Question {
  event: PourEvent
  says: string
  sure: boolean
}

export const newId = () => {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  bytes[6] = ((bytes[6] as number) & 0x0f) | 0x40
  bytes[8] = ((bytes[8] as number) & 0x3f) | 0x80
  const hex = [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}

export function usePour(id: string) {
  const client = useQueryClient()
  const box = `roundstone.outbox.${id}`
  const view = shallowRef<PourView | null>(null)
  const missing = ref<string | null>(null)
  const offline = ref(false)
  const question = ref<Question | null>(null)
  const waiting = shallowRef<PourEvent[]>(JSON.parse(localStorage.getItem(box) ?? '[]') as PourEvent[])
  const tick = ref(performance.now())
  let seenAt = performance.now()
  let sending = false
  let timer = 0

  const running = computed(() => view.value !== null && view.value.ended === null)
  /** The pour's clock: the server's minute, carried on by this machine's. */
  const minute = computed(() => {
    if (!view.value) return 0
    return running.value ? view.value.minute + Math.max(0, tick.value - seenAt) / 60000 : view.value.minute
  })

  function show(next: PourView) {
    view.value = next
    seenAt = tick.value = performance.now()
    offline.value = false
  }

  async function look() {
    try {
      show(await take(api.GET('/api/pours/{pour_id}', { params: { path: { pour_id: id } } })))
    } catch (error) {
      if (error instanceof Refused) missing.value = error.message
      else offline.value = true
    }
  }

  function keep(events: PourEvent[]) {
    waiting.value = events
    if (events.length) localStorage.setItem(box, JSON.stringify(events))
    else localStorage.removeItem(box)
  }

  async function send() {
    if (sending) return
    sending = true
    clearTimeout(timer)
    try {
      for (let event = waiting.value[0]; event; event = waiting.value[0]) {
        try {
          show(
            await take(
              api.POST('/api/pours/{pour_id}/events', {
                params: { path: { pour_id: id } },
                body: { event },
              }),
            ),
          )
          keep(waiting.value.slice(1))
          if (event.kind === 'ended' || event.kind === 'undo' || view.value?.ended !== null)
            for (const key of ['recipes', 'pours', 'fragrances', 'prospects', 'learning'])
              void client.invalidateQueries({ queryKey: [key] })
        } catch (error) {
          if (!(error instanceof Refused) || error.problem.status >= 500) {
            offline.value = true
            timer = window.setTimeout(send, TRY_AGAIN)
            return
          }
          keep(waiting.value.slice(1))
          question.value = {
            event,
            says: error.problem.errors[0]?.says ?? error.message,
            sure: error.problem.sure,
          }
        }
      }
    } finally {
      sending = false
    }
  }

  function put(event: PourEvent) {
    question.value = null
    keep([...waiting.value, event])
    void send()
  }

  function tap(what: Tap) {
    if (!view.value) return
    put({ ...what, id: newId(), minute: Number(minute.value.toFixed(4)), sure: false } as PourEvent)
  }

  function sure() {
    if (question.value) put({ ...question.value.event, id: newId(), sure: true })
  }

  /** Put down what was written in after the pour. */
  const log = (event: PourEvent) => put(event)
  const takeBack = (target: string) => tap({ kind: 'undo', target })

  /** Take back the latest tap: one that has not left this machine is just dropped. */
  function undo() {
    if (offline.value && waiting.value.length) return keep(waiting.value.slice(0, -1))
    const last = view.value?.events.at(-1)
    if (last) tap({ kind: 'undo', target: last.event.id })
  }

  const clock = window.setInterval(() => (tick.value = performance.now()), 250)
  const looker = window.setInterval(() => {
    if (running.value && !sending && document.visibilityState === 'visible') void look()
  }, LOOK_EVERY)
  const wake = () => document.visibilityState === 'visible' && void look().then(send)
  document.addEventListener('visibilitychange', wake)
  onScopeDispose(() => {
    clearInterval(clock)
    clearInterval(looker)
    clearTimeout(timer)
    document.removeEventListener('visibilitychange', wake)
  })
  void look().then(send)

  return {
    view,
    missing,
    offline,
    question,
    waiting,
    running,
    minute,
    tap,
    log,
    takeBack,
    look,
    sure,
    undo,
    send,
  }
}
