/**
 * A recipe being typed: every edit is reckoned at once, saved by itself, and can be undone.
 *
 * Edits the server reckons wait for one another and are made on the newest recipe. What is not saved yet is kept in
 * this browser, so that it outlives the page.
 */
import { useQueryClient } from '@tanstack/vue-query'
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
  type Caution,
  type Fault,
  type Mend,
  type Recipe,
  type RecipeForecast,
  type Schemas,
  type Weights,
} from '../api/client'
import { drafts } from '../keep/store'
import { same } from '../support/same'

const SAVE_AFTER = 500 // ms of quiet before a draft is written to disk
const TRY_AGAIN = 2000
const ONE_TYPING = 1500 // ms within which typing in one field is one step to undo
const FORETELL_AFTER = 150 // ms without an edit after which a forecast is asked for: the weights never wait for it
const RESTS = 350 // ms without a key after which the hand rests

export type SaveState = 'saved' | 'saving' | 'offline' | 'conflict'
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

const NONE: never[] = []
function byPointer<T extends { pointer: string }>(all: T[], alike: (a: T, b: T) => boolean) {
  const found = new Map<string, T[]>()
  for (const one of all) {
    const there = found.get(one.pointer) ?? []
    if (!there.some((x) => alike(x, one))) found.set(one.pointer, [...there, one])
  }
  return found
}

export function useDraft(id: string) {
  const client = useQueryClient()
  const recipe = shallowRef<Recipe | null>(null)
  const missing = ref<string | null>(null)
  const meta = reactive({
    revision: 0,
    versions: 0,
    pours: 0,
    running: null as string | null,
    noted: [] as Schemas['Recalled'][],
  })
  // What was weighed and what was forecast last, each with the recipe it is of.
  const weighed = shallowRef<Weights | null>(null)
  const weighedOf = shallowRef<Recipe | null>(null)
  const foretold = shallowRef<RecipeForecast | null>(null)
  const foretoldOf = shallowRef<Recipe | null>(null)
  const unreachable = ref<string | null>(null)
  const saveState = ref<SaveState>('saved')
  const theirs = shallowRef<{ revision: number; recipe: Recipe } | null>(null)
  const unreadable = reactive(new Map<string, Fault>())
  const actFaults = shallowRef<Fault[]>([])
  const lastPointer = ref('')
  const past = shallowRef<Recipe[]>([])
  const future = shallowRef<Recipe[]>([])
  let lastEdit = { what: '', at: 0 }
  let typing: { what: string; base: Recipe; result: Recipe } | null = null
  let weighing = false
  let foretelling = false
  let ended = false
  let saveTimer = 0
  let askTimer = 0
  let foretellTimer = 0
  let saving: Promise<void> | null = null
  let saved: Recipe | null = null
  let unanswered: Recipe[] = [] // sent, and nothing came back
  let took = '' // what a tab that is closed had typed, by the key it was kept under

  async function load() {
    try {
      const view = await take(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: id } } }))
      const kept = await drafts.get(id).catch(() => undefined)
      took = kept?.key ?? ''
      Object.assign(meta, {
        revision: view.revision,
        versions: view.versions,
        pours: view.pours,
        running: view.running,
        noted: view.noted,
      })
      saved = view.recipe
      recipe.value = view.recipe
      saveState.value = 'saved'
      theirs.value = null
      past.value = []
      future.value = []
      if (kept && !same(kept.recipe, view.recipe)) {
        // Typed here before and never saved: it goes on from there, or waits for a choice.
        recipe.value = kept.recipe
        if (kept.revision === view.revision) void save()
        else disagree({ revision: view.revision, recipe: view.recipe })
      } else if (kept) void forget()
      await weigh()
    } catch (error) {
      if (error instanceof Refused) missing.value = error.message
      else {
        unreachable.value = (error as Error).message
        askTimer = window.setTimeout(load, TRY_AGAIN)
      }
    }
  }

  /** What was typed is saved, or given up. */
  const forget = () => drafts.drop(id, took).catch(() => undefined)

  /** Weigh what stands here, one request at a time: what is typed meanwhile is weighed next, and only the newest. */
  async function weigh() {
    clearTimeout(askTimer)
    if (weighing) return
    weighing = true
    try {
      while (recipe.value && recipe.value !== weighedOf.value && !ended) {
        const of = recipe.value
        try {
          weighed.value = await take(api.POST('/api/weigh', { body: { recipe: of } }))
          weighedOf.value = of
          unreachable.value = null
        } catch (error) {
          if (of !== recipe.value) continue
          unreachable.value = (error as Error).message
          const passes = !(error instanceof Refused) || error.problem.status >= 500
          if (!ended && (passes || error.problem.status === 429))
            askTimer = window.setTimeout(weigh, TRY_AGAIN)
          return
        }
      }
    } finally {
      weighing = false
    }
    foretellSoon()
  }

  function foretellSoon(after = FORETELL_AFTER) {
    clearTimeout(foretellTimer)
    if (!ended) foretellTimer = window.setTimeout(foretell, after)
  }

  /** Forecast what stands here, once it is weighed and the hand rests; one request at a time. */
  async function foretell() {
    const of = weighedOf.value
    if (foretelling || !of || of !== recipe.value || of === foretoldOf.value) return
    if (!weighed.value?.weighing.sheet) return // there is nothing to forecast
    foretelling = true
    try {
      foretold.value = await take(api.POST('/api/forecast', { body: { recipe: of, seed: id } }))
      foretoldOf.value = of
    } catch {
      // What was weighed stands all the same: only what is foretold is of a moment ago.
      if (of === recipe.value) foretellSoon(TRY_AGAIN)
    } finally {
      foretelling = false
    }
    if (of !== recipe.value) foretellSoon()
  }

  function disagree(other: { revision: number; recipe: Recipe }) {
    theirs.value = other
    saveState.value = 'conflict'
  }

  /** Put down what stands here now, on top of the revision it was typed on. One at a time. */
  async function put(of: Recipe): Promise<boolean> {
    unanswered = [...unanswered.slice(-9), of]
    try {
      const answer = await take(
        api.PUT('/api/recipes/{recipe_id}', {
          params: { path: { recipe_id: id } },
          body: { revision: meta.revision, recipe: of },
          keepalive: true,
        }),
      )
      meta.revision = answer.revision
      saved = of
      unanswered = []
      return true
    } catch (error) {
      if (!(error instanceof Refused) || error.problem.status !== 409) {
        saveState.value = 'offline'
        saveTimer = window.setTimeout(save, TRY_AGAIN)
        return false
      }
      return settle(of)
    }
  }

  /** The server has another revision: our own whose answer was lost, or someone else's. */
  async function settle(of: Recipe): Promise<boolean> {
    try {
      const view = await take(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: id } } }))
      if (unanswered.some((r) => same(r, view.recipe))) {
        meta.revision = view.revision
        saved = view.recipe
        return same(of, view.recipe) || put(of)
      }
      disagree({ revision: view.revision, recipe: view.recipe })
    } catch {
      saveState.value = 'offline'
      saveTimer = window.setTimeout(save, TRY_AGAIN)
    }
    return false
  }

  async function saveAll() {
    while (recipe.value && recipe.value !== saved && saveState.value !== 'conflict') {
      const of = recipe.value
      saveState.value = 'saving'
      if (!(await put(of))) return
      if (recipe.value === of || recipe.value === saved) {
        saveState.value = 'saved'
        await forget()
      }
      void client.invalidateQueries({ queryKey: ['recipes'] })
    }
    if (recipe.value === saved && saveState.value === 'saving') saveState.value = 'saved'
  }

  function save(): Promise<void> {
    clearTimeout(saveTimer)
    saving ??= saveAll().finally(() => (saving = null))
    return saving
  }

  /** `known` is what it was weighed as already. */
  function become(next: Recipe, known: Weights | null = null) {
    recipe.value = next
    if (saveState.value !== 'conflict') saveState.value = 'saving'
    void drafts
      .put({ id, revision: meta.revision, recipe: structuredClone(toRaw(next)) })
      .catch(() => undefined)
    clearTimeout(saveTimer)
    saveTimer = window.setTimeout(save, SAVE_AFTER)
    if (known) {
      clearTimeout(askTimer)
      weighed.value = known
      weighedOf.value = next
      unreachable.value = null
      foretellSoon(0)
    } else void weigh()
  }

  /** Whether this goes on with the last edit: typing in one field (`what` is its pointer) is one step to undo. */
  function goesOn(what: string): boolean {
    const now = Date.now()
    const on = what.startsWith('/') && what === lastEdit.what && now - lastEdit.at <= ONE_TYPING
    lastEdit = { what, at: now }
    return on
  }

  function edit(what: string, change: (draft: Recipe) => void) {
    if (!recipe.value) return
    const next = structuredClone(toRaw(recipe.value))
    change(next)
    if (!goesOn(what)) past.value = [...past.value.slice(-99), recipe.value]
    lastPointer.value = what
    actFaults.value = []
    future.value = []
    become(next)
  }

  function step(from: typeof past, to: typeof past) {
    const next = from.value.at(-1)
    if (!next || !recipe.value) return
    to.value = [...to.value, recipe.value]
    from.value = from.value.slice(0, -1)
    lastEdit = { what: '', at: 0 }
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
      future.value = []
      if (base === newest || !typing) past.value = [...past.value.slice(-99), newest]
      lastEdit = { what: '', at: 0 }
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
    if (!open.length) return step(past, future)
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
      const parts = pointer.split('/').slice(1)
      let at = draft as unknown as Record<string, unknown>
      for (const part of parts.slice(0, -1)) at = at[part] as Record<string, unknown>
      at[parts.at(-1) as string] = value
    })
  }

  /** Mine is written over what another window saved; theirs stays in the versions and in the undo here. */
  function keepMine() {
    if (!theirs.value || !recipe.value) return
    meta.revision = theirs.value.revision
    past.value = [...past.value, theirs.value.recipe]
    theirs.value = null
    saveState.value = 'saving'
    saved = null
    return save()
  }
  function keepTheirs() {
    if (!theirs.value) return
    const mine = recipe.value
    meta.revision = theirs.value.revision
    saved = theirs.value.recipe
    if (mine) past.value = [...past.value, mine]
    recipe.value = theirs.value.recipe
    rewritten.value++
    theirs.value = null
    saveState.value = 'saved'
    void forget()
    return weigh()
  }

  const faults = computed<Fault[]>(() => weighed.value?.weighing.faults ?? [])
  const cautions = computed<Caution[]>(() => [
    ...(weighed.value?.weighing.cautions ?? []),
    ...(weighed.value?.supply?.short ?? []),
  ])
  // By pointer, once for all fields that ask.
  const faultsBy = computed(() =>
    byPointer(
      [...unreadable.values(), ...faults.value, ...actFaults.value],
      (f, g) => f.message === g.message,
    ),
  )
  const cautionsBy = computed(() => byPointer(cautions.value, () => false))
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
  document.addEventListener('focusout', release)
  window.addEventListener('pagehide', flush)
  window.addEventListener('beforeunload', asks)
  onScopeDispose(() => {
    document.removeEventListener('focusout', release)
    window.removeEventListener('pagehide', flush)
    window.removeEventListener('beforeunload', asks)
    ended = true
    clearTimeout(askTimer)
    clearTimeout(foretellTimer)
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
    faults,
    cautions,
    unreachable,
    unreadable,
    saveState,
    theirs,
    canUndo: computed(() => past.value.length > 0 || held.value !== null || working.value),
    canRedo: computed(() => future.value.length > 0),
    edit,
    adjust,
    actFaults,
    lastPointer,
    rewritten,
    mend,
    undo,
    redo: () => step(future, past),
    save: () => made().then(save),
    keepMine,
    keepTheirs,
    faultsAt: (pointer: string) => faultsBy.value.get(pointer) ?? NONE,
    cautionsAt: (pointer: string) => cautionsBy.value.get(pointer) ?? NONE,
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
