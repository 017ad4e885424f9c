/** A pour at the bench: its clock, its view, and what is tapped, which goes through the app's outbox. */
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener, useIntervalFn, useWakeLock } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef, toRaw, watch } from 'vue'
import { api, Refused, take, type PourEvent, type PourView } from '../api/client'
import { outbox } from '../keep/outbox'
import { views } from '../keep/store'
import { soon } from '../support/known'
import { newId } from '../support/newId'

const LOOK_EVERY = 8000 // ms between fresh looks at a pour that goes on without taps
const TRY_AGAIN = 2000
const STEP = 2000 // ms by which wall and running time may differ before one of them is thought to have jumped
const AWAKE = 1000 // ms a tap waits for the minute after that
const KEEP_EVERY = 3000 // ms between two times that what the bench shows is kept on this device

export type Tap = PourEvent extends infer E
  ? E extends { id: string }
    ? Omit<E, 'id' | 'minute' | 'sure'>
    : never
  : never

export type Purpose = Extract<PourEvent, { kind: 'work' }>['purpose']

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
  const tick = ref(performance.now())
  let timer = 0

  /**
   * Where the pour's clock stood at which running time of this device, which nobody can set. Its wall time is kept
   * beside it: where the two part, the device slept or its clock was set, and only the server or the maker knows which.
   */
  const anchor = ref<{ minute: number; wall: number; run: number } | null>(null)
  const running = computed(() => view.value !== null && view.value.ended === null)
  const minute = computed(() => {
    if (!view.value || !anchor.value) return 0
    if (!running.value) return view.value.minute
    return Math.max(0, anchor.value.minute + (speed() * (tick.value - anchor.value.run)) / 60000)
  })
  const speed = () => view.value?.practice?.speed ?? 1
  const now = () => ((tick.value = performance.now()), minute.value)
  /** Minutes by which the wall time parted from the running time; 0 where it did not. */
  const parted = () => {
    const at = anchor.value
    const by = at ? Date.now() - at.wall - (performance.now() - at.run) : 0
    return Math.abs(by) > STEP ? (speed() * by) / 60000 : 0
  }
  /** Which minute it is then, to be chosen while the server cannot be asked. */
  const jump = ref<number | null>(null)

  function hold(at: number) {
    anchor.value = { minute: at, wall: Date.now(), run: performance.now() }
    tick.value = performance.now()
    jump.value = null
  }
  function show(next: PourView) {
    const here = anchor.value ? now() : next.minute
    // A server clock that steps back moves nothing here; one that is ahead, as after a sleep, is followed.
    hold(view.value?.ended !== next.ended ? next.minute : Math.max(here, next.minute))
    view.value = next
    missing.value = null
    away.value = false
    clearTimeout(timer)
    keep()
  }

  let keptAt = -Infinity
  let keeping = 0
  /** What stands here is kept, so that a bench opened anew without a network knows it. */
  function keep() {
    clearTimeout(keeping)
    const next = view.value
    if (practice || !next) return
    if (next.ended !== null) return void views.drop(id).catch(() => undefined)
    const rest = keptAt + KEEP_EVERY - performance.now()
    if (rest > 0) keeping = window.setTimeout(keep, rest)
    else {
      keptAt = performance.now()
      void views
        .put({ id, wall: Date.now(), minute: now(), view: structuredClone(toRaw(next)) })
        .catch(() => undefined)
    }
  }
  async function known() {
    if (practice || view.value) return
    const kept = await views.get(id).catch(() => undefined)
    if (!kept || view.value) return
    hold(kept.minute + Math.max(0, Date.now() - kept.wall) / 60000)
    view.value = kept.view
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
        await known()
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
  const written = (what: Tap, at: number) =>
    ({ ...what, id: newId(), minute: Number(at.toFixed(4)), sure: false }) as PourEvent
  function tap(what: Tap, at?: number) {
    if (!view.value) return
    // Just awake, or the clock just set: the server may say in a moment which minute it is.
    if (at === undefined && parted() && !away.value)
      void soon(look(), AWAKE).then(() => put(written(what, now())))
    else void put(written(what, at ?? now()))
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
  const awake = useWakeLock()
  watch(
    running,
    (is) =>
      // Refused, as on a low battery: nothing to be done about it.
      void (is ? awake.request('screen') : awake.release()).catch(() => undefined),
  )

  let asked = 0 // the last parting that the server was asked about
  useIntervalFn(() => {
    tick.value = performance.now()
    const by = running.value ? parted() : 0
    if (Math.abs(by - asked) < STEP / 60000) return
    asked = by
    jump.value = by && away.value ? minute.value + by : null
    if (by) void look().then(() => (jump.value = away.value && parted() ? minute.value + parted() : null))
  }, 250)
  useIntervalFn(() => {
    const fresh = performance.now() - (anchor.value?.run ?? 0) < LOOK_EVERY / 2 // a tap was answered just now
    if (running.value && !waiting.value.length && !fresh && document.visibilityState === 'visible')
      void look()
  }, LOOK_EVERY)
  useEventListener(document, 'visibilitychange', () => {
    if (document.visibilityState !== 'visible') return
    void look()
    void outbox.drain()
  })
  onScopeDispose(() => {
    clearTimeout(timer)
    clearTimeout(keeping)
    forget()
    void awake.release().catch(() => undefined)
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
    /** The minute by this device's wall clock, where that parted from its running time and nothing answers. */
    jump,
    hold,
  }
}

export type PourHandle = ReturnType<typeof usePour>
