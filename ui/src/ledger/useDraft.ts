/**
 * A recipe being typed: every edit is reckoned at once, saved by itself, and can be undone.
 *
 * Edits the server reckons wait for one another and are made on the newest recipe. What is not saved yet is kept in
 * this browser, so that it outlives the page.
 */
import { useEventListener } from '@vueuse/core'
import {
  computed,
  inject,
  onScopeDispose,
  provide,
  reactive,
  ref,
  shallowRef,
  toRaw,
  type InjectionKey,
} from 'vue'
import {
  api,
  fault,
  Refused,
  take,
  type Act,
  type Fault,
  type Mend,
  type Recipe,
  type Schemas,
  type Weights,
} from '../api/client'
import { placeOf } from '../support/pointer'
import { heldRef } from '../support/held'
import { sharing } from '../support/shared'
import { useComplaints } from './useComplaints'
import { useFigures } from './useFigures'
import { useHistory } from './useHistory'
import { useSaving, type SaveState } from './useSaving'

const TRY_AGAIN = 2000
const RESTS = 350 // ms without a key after which the hand rests

export type { SaveState }
/** An act on the recipe as it then is; null when what it was meant for is gone. */
type Making = Act | ((recipe: Recipe) => Act | null)
interface Waiting {
  make: Making
  what: string
  /** What is typed all the same when the server does not answer. */
  otherwise?: (draft: Recipe) => void
  done?: () => void
  /** Undone before it was answered. */
  dropped?: boolean
}

export function useDraft(id: string) {
  const { ref: recipe, hold, letGo } = heldRef<Recipe | null>(null)
  const missing = ref<string | null>(null)
  const meta = reactive({
    revision: 0,
    versions: 0,
    pours: 0,
    running: null as string | null,
    noted: [] as Schemas['Recalled'][],
  })
  const figures = useFigures(id, recipe, letGo)
  const { weighed, weighedOf, foretold, foretoldOf, unreachable, weigh } = figures
  const { saveState, theirs, opened, save, saveSoon, writeOver, giveWay } = useSaving(id, recipe, meta)
  const unreadable = reactive(new Map<string, Fault>())
  const actFaults = shallowRef<Fault[]>([])
  const complaints = useComplaints(weighed, unreadable, actFaults)
  const lastPointer = ref('')
  const history = useHistory(id, recipe)
  let typing: { what: string; base: Recipe; result: Recipe } | null = null
  let loadTimer = 0

  async function load() {
    try {
      const view = await take(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: id } } }))
      const { versions, pours, running, noted } = view
      Object.assign(meta, { versions, pours, running, noted })
      await opened(view)
      void history.opened()
      await weigh()
    } catch (error) {
      if (error instanceof Refused) missing.value = error.message
      else {
        unreachable.value = (error as Error).message
        loadTimer = window.setTimeout(load, TRY_AGAIN)
      }
    }
  }

  /** `known` is what it was weighed as already. What is typed in a field stands there, and is drawn with its weights. */
  function become(next: Recipe, known: Weights | null = null, typed = false) {
    next = sharing(recipe.value, next)
    if (typed) hold(next)
    else recipe.value = next
    if (known) figures.known(next, known)
    else void weigh()
    saveSoon(next)
    void history.keep()
  }

  function edit(what: string, change: (draft: Recipe) => void) {
    if (!recipe.value) return
    const next = structuredClone(toRaw(recipe.value))
    change(next)
    history.typed(what, recipe.value)
    lastPointer.value = what
    if (actFaults.value.length) actFaults.value = []
    become(next, null, what.startsWith('/'))
  }

  function step(back: boolean) {
    const next = history.step(back)
    if (!next) return
    become(next)
    rewritten.value++
  }

  // Edits that the server reckons, since they move more than one figure: in order, each on the newest recipe.
  const queue: Waiting[] = []
  const working = ref(false)
  /** What is being typed in a field the server reckons: it goes when the hand rests or leaves. */
  const held = shallowRef<Waiting | null>(null)
  let going: Waiting | null = null
  let rests = 0
  /** Counts up when fields must show anew what is there, whatever was typed in them. */
  const rewritten = ref(0)

  /** Typed anew in one field it is reckoned from where that typing began, so nothing is rounded twice. */
  function baseOf(what: string): Recipe | null {
    return typing && what && typing.what === what && typing.result === recipe.value
      ? typing.base
      : recipe.value
  }

  /** An answer to what stands in its field no more changes nothing. */
  const typedSince = (what: string) =>
    what !== '' && (held.value?.what === what || queue.some((w) => w.what === what))

  async function makeOne(waiting: Waiting) {
    const { make, what } = waiting
    for (;;) {
      const newest = recipe.value
      const base = baseOf(what)
      if (!newest || !base) return
      const act = typeof make === 'function' ? make(base) : make
      if (!act) {
        actFaults.value = [fault('', 'That is no longer there, so nothing was changed.')]
        return
      }
      const answer = await take(api.POST('/api/adjust', { body: { recipe: base, act } }))
      if (waiting.dropped || typedSince(what)) return
      if (recipe.value !== newest) continue // overtaken: once more, on what stands there now
      actFaults.value = []
      if (base === newest || !typing) history.push(newest)
      if (what) {
        typing = { what, base, result: answer.recipe }
        lastPointer.value = what
      } else typing = null
      become(answer.recipe, answer.weighed)
      return
    }
  }

  async function work() {
    if (working.value) return
    working.value = true
    try {
      for (let next = queue.shift(); next; next = queue.shift()) {
        going = next
        try {
          await makeOne(next)
        } catch (error) {
          if (next.dropped || typedSince(next.what)) continue
          if (next.otherwise && !(error instanceof Refused)) edit(next.what, next.otherwise)
          else
            actFaults.value =
              error instanceof Refused && error.problem.errors.length
                ? error.problem.errors
                : [fault('', `${(error as Error).message} This change was not made: ask for it again.`)]
        } finally {
          next.done?.()
        }
      }
    } finally {
      going = null
      working.value = false
    }
  }

  /** What is held goes now. */
  function release() {
    clearTimeout(rests)
    const next = held.value
    if (!next) return
    queue.push(next)
    held.value = null
    void work()
  }

  /** `what` is the pointer of a field this is typed in: only the last of what is typed there counts, once the hand
      rests or leaves. Ends when it is made, or is told not to be. */
  function adjust(make: Making, what = '', otherwise?: (draft: Recipe) => void): Promise<void> {
    if (held.value?.what === what) {
      held.value.done?.()
      held.value = null
    }
    release()
    while (what && queue.at(-1)?.what === what) queue.pop()?.done?.()
    return new Promise((done) => {
      const next = { make, what, otherwise, done }
      if (what) {
        held.value = next
        rests = window.setTimeout(release, RESTS)
      } else {
        queue.push(next)
        void work()
      }
    })
  }
  function undo() {
    const open = [...(held.value ? [held.value] : []), ...(going && !going.dropped ? [going] : []), ...queue]
    if (!open.length) return step(true)
    // What is not made yet is all that is undone.
    for (const one of open) {
      one.dropped = true
      one.done?.()
    }
    held.value = null
    queue.length = 0
    rewritten.value++
  }
  /** All that was asked of the server is made. */
  async function made() {
    release()
    while (going ?? queue.length) await new Promise((done) => setTimeout(done, 20))
  }

  /** Write a value at a JSON pointer, as a mend asks. */
  function mend({ pointer, value }: Mend) {
    edit(`mend ${pointer}`, (draft) => {
      const [at, name] = placeOf(draft, pointer)
      at[name] = value
    })
  }

  /** Mine is written over what another window saved; theirs stays in the versions and in the undo here. */
  function keepMine() {
    const other = writeOver()
    if (!other) return
    history.push(other)
    return save()
  }
  function keepTheirs() {
    if (!theirs.value) return
    const mine = giveWay()
    if (mine) history.push(mine)
    rewritten.value++
    return weigh()
  }

  /** Figures are shown only when they belong to exactly what stands in the fields. */
  const stale = computed(() => weighedOf.value !== recipe.value || working.value || held.value !== null)
  /** The forecast may be of what stood here a moment ago. */
  const forecastStale = computed(() => stale.value || foretoldOf.value !== recipe.value)
  const current = computed(() => !stale.value && !unreadable.size && !unreachable.value)
  const sheet = computed(() =>
    unreadable.size || unreachable.value ? null : (weighed.value?.weighing.sheet ?? null),
  )
  /** Of a recipe that cannot be weighed nothing is foretold. */
  const outlook = computed(() => (sheet.value ? foretold.value : null))

  /** The page goes: what the server was asked and did not answer stands at least as it was typed. */
  function flush() {
    release()
    for (const { what, otherwise } of going ? [going, ...queue] : queue) if (otherwise) edit(what, otherwise)
    void save()
  }
  function asks(event: BeforeUnloadEvent) {
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
    release()
    if (working.value) event.preventDefault()
  }
  useEventListener(document, 'focusout', release)
  useEventListener('pagehide', flush)
  useEventListener('beforeunload', asks)
  onScopeDispose(() => {
    figures.stop()
    clearTimeout(loadTimer)
    void made().then(save)
  })
  void load()

  return {
    id,
    recipe,
    missing,
    meta,
    weighed,
    foretold: outlook,
    sheet,
    current,
    stale,
    forecastStale,
    ...complaints,
    unreachable,
    unreadable,
    saveState,
    theirs,
    canUndo: computed(() => history.canUndo.value || held.value !== null || working.value),
    canRedo: history.canRedo,
    edit,
    adjust,
    actFaults,
    lastPointer,
    rewritten,
    mend,
    undo,
    redo: () => step(false),
    save: () => made().then(save),
    keepMine,
    keepTheirs,
    /** What cannot be read in a field (null: it can), which now stands at `pointer`. */
    readable: (field: string, pointer: string, message: string | null) =>
      message === null ? unreadable.delete(field) : unreadable.set(field, fault(pointer, message)),
  }
}

export type DraftHandle = ReturnType<typeof useDraft>
const KEY: InjectionKey<DraftHandle> = Symbol('draft')

export function provideDraft(id: string): DraftHandle {
  const draft = useDraft(id)
  provide(KEY, draft)
  return draft
}

export function injectDraft(): DraftHandle {
  const draft = inject(KEY)
  if (!draft) throw new Error('no draft here')
  return draft
}
