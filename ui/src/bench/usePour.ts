/** A pour at the bench: its clock, its view, and what is tapped, which goes through the app's outbox. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue'
import { api, Refused, take, type PourEvent, type PourView } from '../api/client'
import { outbox } from '../keep/outbox'

const LOOK_EVERY = 8000 // ms between fresh looks at a pour that goes on without taps
const TRY_AGAIN = 2000
const STEP = 2000 // ms by which wall and running time may differ before one of them is thought to have jumped

export type Tap = PourEvent extends infer E
  ? E extends { id: string }
    ? Omit<E, 'id' | 'minute' | 'sure'>
    : never
  : never

export type Purpose = Extract<PourEvent, { kind: 'work' }>['purpose']

export const newId = () => {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  bytes[6] = ((bytes[6] as number) & 0x0f) | 0x40
  bytes[8] = ((bytes[8] as number) & 0x3f) | 0x80
  const hex = [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}

/** Where a pour's taps go and its view comes from: the log, by way of the app's outbox, or practice, which keeps none. */
interface Source {
  look: () => Promise<PourView>
  put: (event: PourEvent) => Promise<void>
  waiting: () => readonly { event: PourEvent }[]
  offline: () => boolean
}

const ofLog = (id: string): Source => ({
  look: () => take(api.GET('/api/pours/{pour_id}', { params: { path: { pour_id: id } } })),
  put: (event) => outbox.put(id, event),
  waiting: () => outbox.of(id),
  offline: () => outbox.offline.value,
})

function ofPractice(id: string, show: (view: PourView) => void): Source {
  const path = { practice_id: id }
  const queue = shallowRef<{ event: PourEvent }[]>([])
  const stuck = ref(false)
  let sending = false
  async function drain() {
    if (sending) return
    sending = true
    try {
      for (let next = queue.value[0]; next; next = queue.value[0]) {
        const view = await take(
          api.POST('/api/practice/{practice_id}/events', { params: { path }, body: { event: next.event } }),
        )
        stuck.value = false
        show(view)
        queue.value = queue.value.slice(1)
      }
    } catch (error) {
      if (error instanceof Refused) queue.value = queue.value.slice(1)
      else {
        stuck.value = true
        window.setTimeout(drain, TRY_AGAIN)
      }
    } finally {
      sending = false
    }
  }
  return {
    look: () => take(api.GET('/api/practice/{practice_id}', { params: { path } })),
    put: async (event) => {
      queue.value = [...queue.value, { event }]
      await drain()
    },
    waiting: () => queue.value,
    offline: () => stuck.value,
  }
}

export function usePour(id: string, practice = false) {
  const client = useQueryClient()
  const view = shallowRef<PourView | null>(null)
  const missing = ref<string | null>(null)
  const away = ref(false) // the last look was not answered
  const tick = ref(Date.now())
  let timer = 0

  /**
   * Where the pour's clock stood at which wall time. Wall time goes on while a device sleeps; the running time beside
   * it tells a sleep or a clock that was set from time that just passed.
   */
  const anchor = ref<{ minute: number; wall: number; run: number } | null>(null)
  const running = computed(() => view.value !== null && view.value.ended === null)
  const minute = computed(() => {
    if (!view.value || !anchor.value) return 0
    if (!running.value) return view.value.minute
    return Math.max(0, anchor.value.minute + (speed() * (tick.value - anchor.value.wall)) / 60000)
  })
  const speed = () => view.value?.practice?.speed ?? 1
  const now = () => ((tick.value = Date.now()), minute.value)

  function show(next: PourView) {
    const [wall, run] = [Date.now(), performance.now()]
    const before = anchor.value
    const jumped = !before || Math.abs(wall - before.wall - (run - before.run)) > STEP
    const here = before ? before.minute + (speed() * (wall - before.wall)) / 60000 : next.minute
    // A server clock that steps back moves nothing here; one that is ahead, or after a sleep, is followed.
    if (jumped || next.minute > here || view.value?.ended !== next.ended)
      anchor.value = { minute: next.minute, wall, run }
    else anchor.value = { minute: here, wall, run }
    tick.value = wall
    view.value = next
    missing.value = null
    away.value = false
    clearTimeout(timer)
  }

  const source = practice
    ? ofPractice(id, (next) => {
        answers++
        show(next)
      })
    : ofLog(id)
  let answers = 0 // to taps; a look that was asked for before one of them is out of date when it comes
  async function look() {
    const before = answers
    try {
      const seen = await source.look()
      if (before === answers) show(seen)
    } catch (error) {
      // Only "there is none" empties the bench; all else keeps what is seen and asks again.
      if (error instanceof Refused && error.problem.status === 404) missing.value = error.message
      else {
        away.value = true
        clearTimeout(timer)
        timer = window.setTimeout(look, TRY_AGAIN)
      }
    }
  }

  const waiting = computed(source.waiting)
  const forget = outbox.listen((pour, next) => {
    if (pour !== id) return
    const ended = view.value?.ended
    if (next) {
      answers++
      show(next)
    } else void look()
    if (next && (next.ended !== ended || next.ended !== null))
      for (const key of ['recipes', 'pours', 'fragrances', 'prospects', 'learning'])
        void client.invalidateQueries({ queryKey: [key] })
  })

  const put = source.put
  function tap(what: Tap, at = now()) {
    if (!view.value) return
    void put({ ...what, id: newId(), minute: Number(at.toFixed(4)), sure: false } as PourEvent)
  }
  /** What is said of a tap is said at its own time, also days after: of two moves the later counts. */
  const since = () =>
    Math.max(now(), running.value ? 0 : (Date.now() - Date.parse(view.value?.started ?? '')) / 60_000 || 0)

  /** Taps that stand, the latest last: what the server has, and what is still on its way there. */
  const standing = computed(() => {
    const notes = new Set(['undo', 'kept', 'moved'])
    const sent = (view.value?.events ?? []).map((e) => e.event)
    const queued = waiting.value.map((t) => t.event)
    const gone = new Set(queued.flatMap((e) => (e.kind === 'undo' ? [e.target] : [])))
    const all = [...sent, ...queued.filter((e) => !notes.has(e.kind) && !sent.some((s) => s.id === e.id))]
    return all.filter((e) => !gone.has(e.id))
  })

  const takeBack = (target: string) => tap({ kind: 'undo', target }, since())
  /** Take back the latest tap: always an event of its own, whether the tap has arrived or not. */
  function undo() {
    const last = standing.value.at(-1)
    if (last) takeBack(last.id)
  }

  // The screen stays awake while a pour runs, where the browser can do that.
  let lock: WakeLockSentinel | null = null
  async function stayAwake(on: boolean) {
    try {
      if (on && document.visibilityState === 'visible') lock ??= await navigator.wakeLock?.request('screen')
      else {
        await lock?.release()
        lock = null
      }
    } catch {
      lock = null // refused, as on a low battery: nothing to be done about it
    }
  }
  watch(running, (is) => void stayAwake(is))

  const clock = window.setInterval(() => (tick.value = Date.now()), 250)
  const looker = window.setInterval(() => {
    const fresh = Date.now() - (anchor.value?.wall ?? 0) < LOOK_EVERY / 2 // a tap was answered just now
    if (running.value && !waiting.value.length && !fresh && document.visibilityState === 'visible')
      void look()
  }, LOOK_EVERY)
  const wake = () => {
    if (document.visibilityState !== 'visible') {
      lock = null
      return
    }
    void look()
    void outbox.drain()
    void stayAwake(running.value)
  }
  document.addEventListener('visibilitychange', wake)
  onScopeDispose(() => {
    clearInterval(clock)
    clearInterval(looker)
    clearTimeout(timer)
    document.removeEventListener('visibilitychange', wake)
    forget()
    void stayAwake(false)
  })
  void look()

  return {
    view,
    missing,
    offline: computed(() => away.value || source.offline()),
    waiting,
    running,
    minute,
    standing,
    tap,
    /** Put down what was written in after the pour. */
    log: put,
    show,
    speed,
    takeBack,
    keep: (target: string) => tap({ kind: 'kept', target }, since()),
    move: (target: string, to: number) => tap({ kind: 'moved', target, to }, since()),
    look,
    undo,
  }
}
