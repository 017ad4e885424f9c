/**
 * The one outbox of the app: every tap is kept in this browser until the server has it, whatever page is open.
 *
 * A tap is shown and sent even when the browser cannot keep it; the maker is told. Several tabs share one outbox: one
 * of them sends at a time, and sending twice does no harm, since a tap's id is its own. Each pour's taps go in order;
 * one that the server cannot take is set aside after a few tries, and holds up nothing: it stays listed, with its
 * words, until it is sent again or put away.
 */
import { computed, ref, shallowRef } from 'vue'
import { api, Refused, take, type PourEvent, type PourView } from '../api/client'
import { taps as kept, type KeptTap } from './store'

const TRY_AGAIN = 1500 // ms
const STUCK = 20 // turns after which a tab that sends but does not get on is passed over
const TRIES = 3 // of one tap that the server fails at, before it is set aside
/** Not let in (any more), another address, too quick: the tap was not read, and waits until it can be. So it does
    while the server cannot take anything: it is busy, starting, or its disk is full. */
const WAITS = new Set([401, 403, 421, 429, 502, 503, 504, 507])
/** Something of this tap, or of this moment: worth another try. */
const AGAIN = new Set([408, 409])
const OLD_BOX = 'roundstone.outbox.'

const entries = shallowRef<KeptTap[]>([])
const unkept = new Set<string>() // in memory alone: the browser would not take them
/** Why taps are not kept on this device, if they are not. */
const trouble = ref('')
const offline = ref(false)
const listeners = new Set<(pour: string, view: PourView | null) => void>()
const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('roundstone-outbox')

let last = 0
let draining = false
let again = false
let timer = 0
let turnedAway = 0

/** Rising over all tabs, near enough: the clock, and one more for each tap within a millisecond. */
const order = () => (last = Math.max(Date.now() * 1000, last + 1))
const inOrder = (list: KeptTap[]) => [...list].sort((a, b) => a.seq - b.seq)

async function reload() {
  try {
    const stored = (await kept.all()).filter((t) => t.event && t.pour)
    const here = entries.value.filter((t) => unkept.has(t.id))
    entries.value = inOrder([...stored, ...here.filter((t) => !stored.some((s) => s.id === t.id))])
  } catch {
    trouble.value =
      'This browser keeps nothing on this device: leave this page open until all taps are saved.'
  }
}

async function put(pour: string, event: PourEvent) {
  const tap: KeptTap = { id: event.id, seq: order(), pour, event }
  entries.value = inOrder([...entries.value, tap])
  unkept.add(tap.id)
  // Kept and sent at once, neither waiting for the other. What drops it later is asked of the browser after this.
  await Promise.all([keep(tap), drain()])
}

async function keep(tap: KeptTap) {
  try {
    await kept.put(tap)
    unkept.delete(tap.id)
    trouble.value = ''
  } catch {
    if (entries.value.some((t) => t.id === tap.id))
      trouble.value =
        'This browser could not keep the last tap: leave this page open until all taps are saved.'
  }
  channel?.postMessage({ pour: tap.pour })
}

async function drop(tap: KeptTap) {
  entries.value = entries.value.filter((t) => t.id !== tap.id)
  unkept.delete(tap.id)
  await kept.drop(tap.id).catch(() => undefined)
}

const tried = new Map<string, number>()
const rests = new Map<string, number>() // until when a pour's taps wait for another try

async function refuse(tap: KeptTap, why: string) {
  const marked = { ...tap, refused: why }
  entries.value = entries.value.map((t) => (t.id === tap.id ? marked : t))
  await kept.put(marked).catch(() => undefined)
}

/** Send one. Whether it is done with, its pour has to wait, or all of them have. */
async function send(tap: KeptTap): Promise<'done' | 'pour' | 'all'> {
  try {
    const view = await take(
      api.POST('/api/pours/{pour_id}/events', {
        params: { path: { pour_id: tap.pour } },
        body: { event: tap.event },
      }),
    )
    offline.value = false
    // Shown first: between the two the tap would stand nowhere, and an undo would take back the one before it.
    for (const tell of listeners) tell(tap.pour, view)
    await drop(tap)
    tried.delete(tap.id)
    channel?.postMessage({ pour: tap.pour })
    return 'done'
  } catch (error) {
    const status = error instanceof Refused ? error.problem.status : 0
    if (!(error instanceof Refused) || WAITS.has(status)) {
      offline.value = true
      return 'all'
    }
    offline.value = false
    const times = (tried.get(tap.id) ?? 0) + 1
    tried.set(tap.id, times)
    if ((status >= 500 || AGAIN.has(status)) && times < TRIES) return 'pour'
    tried.delete(tap.id)
    await refuse(tap, error.problem.errors[0]?.message ?? error.message)
    return 'done'
  }
}

/** Alone among the tabs, where the browser can say so; a tab that is stuck is not waited for. */
async function alone(work: () => Promise<void>): Promise<void> {
  if (!navigator.locks) return work()
  const how = turnedAway > STUCK ? { steal: true } : { ifAvailable: true }
  const ran = await navigator.locks.request('roundstone-outbox', how, async (lock) => {
    if (lock) await work()
    return lock !== null
  })
  turnedAway = ran ? 0 : turnedAway + 1
  if (!ran) later()
}

function later() {
  clearTimeout(timer)
  timer = window.setTimeout(drain, TRY_AGAIN)
}

async function drain(): Promise<void> {
  if (draining) {
    again = true
    return
  }
  draining = true
  clearTimeout(timer)
  const begun = performance.now()
  const waits = () => entries.value.find((t) => !t.refused && (rests.get(t.pour) ?? 0) <= begun)
  /** Whether more can be sent now. */
  const sent = async (tap: KeptTap) => {
    const how = await send(tap)
    if (how !== 'done') later()
    if (how === 'pour') rests.set(tap.pour, begun + TRY_AGAIN / 2)
    return how !== 'all'
  }
  try {
    // One that waits alone goes at once: asking the other tabs first takes a frame, and sent twice it does no harm.
    const only = entries.value.filter((t) => !t.refused).length === 1 ? waits() : undefined
    if (only && !(await sent(only))) return
    await alone(async () => {
      for (;;) {
        // What is known here goes first, then whatever other tabs or an earlier page left.
        if (!waits()) await reload()
        const next = waits()
        if (!next || !(await sent(next))) return
      }
    })
  } finally {
    draining = false
    if (again) {
      again = false
      await drain()
    }
  }
}

/** Sent at once, whatever rests. */
function now() {
  rests.clear()
  return drain()
}

/** Taps an older version of this app left behind. */
async function adopt() {
  try {
    for (const key of Object.keys(localStorage).filter((k) => k.startsWith(OLD_BOX))) {
      for (const event of JSON.parse(localStorage.getItem(key) ?? '[]') as PourEvent[])
        await kept.put({ id: event.id, seq: order(), pour: key.slice(OLD_BOX.length), event })
      localStorage.removeItem(key)
    }
  } catch {
    // Nothing readable was left there, or nothing may be kept here.
  }
}

/** Begin: once for the app. */
async function start() {
  channel?.addEventListener('message', (message: MessageEvent<{ pour: string }>) => {
    void reload()
    for (const tell of listeners) tell(message.data.pour, null)
  })
  window.addEventListener('online', () => void now())
  window.addEventListener('beforeunload', (event) => {
    if (entries.value.some((t) => !t.refused)) event.preventDefault()
  })
  await adopt()
  await drain()
}

export const outbox = {
  entries,
  trouble,
  offline,
  waiting: computed(() => entries.value.filter((t) => !t.refused)),
  refused: computed(() => entries.value.filter((t) => t.refused)),
  of: (pour: string) => entries.value.filter((t) => t.pour === pour && !t.refused),
  put,
  drain: now,
  start,
  /** A tap that was not taken, seen and given up by the maker. */
  putAway: drop,
  /** Or tried once more. */
  async again(tap: KeptTap) {
    const fresh = { ...tap, refused: undefined }
    entries.value = entries.value.map((t) => (t.id === tap.id ? fresh : t))
    await kept.put(fresh).catch(() => undefined)
    await now()
  },
  /** Be told of every pour that changed; its view where this tab got it. */
  listen(tell: (pour: string, view: PourView | null) => void) {
    listeners.add(tell)
    return () => listeners.delete(tell)
  },
}
