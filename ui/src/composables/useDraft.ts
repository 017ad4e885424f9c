/** A recipe being typed: every edit is reckoned at once, saved by itself, and can be undone. */
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
  Refused,
  take,
  type Act,
  type Caution,
  type Fault,
  type Mend,
  type Reckoning,
  type Recipe,
} from '../api/client'

const SAVE_AFTER = 500 // ms of quiet before a draft is written to disk
const TRY_AGAIN = 2000

export type SaveState = 'saved' | 'saving' | 'offline' | 'conflict'

function useDraft(id: string) {
  const client = useQueryClient()
  const recipe = shallowRef<Recipe | null>(null)
  const missing = ref<string | null>(null)
  const meta = reactive({ revision: 0, versions: 0, pours: 0, running: null as string | null })
  const reckoning = shallowRef<Reckoning | null>(null)
  const reckoned = shallowRef<Recipe | null>(null)
  const unreachable = ref<string | null>(null)
  const saveState = ref<SaveState>('saved')
  const unreadable = reactive(new Map<string, Fault>())
  const actFaults = shallowRef<Fault[]>([])
  const lastPointer = ref('')
  const past = shallowRef<Recipe[]>([])
  const future = shallowRef<Recipe[]>([])
  let lastEdit = { what: '', at: 0 }
  let asking: AbortController | null = null
  let saveTimer = 0
  let askTimer = 0
  let saving: Promise<void> | null = null
  let saved: Recipe | null = null

  async function load() {
    try {
      const view = await take(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: id } } }))
      Object.assign(meta, {
        revision: view.revision,
        versions: view.versions,
        pours: view.pours,
        running: view.running,
      })
      recipe.value = saved = view.recipe
      saveState.value = 'saved'
      past.value = []
      future.value = []
      await reckon()
    } catch (error) {
      missing.value = (error as Error).message
    }
  }

  async function reckon() {
    asking?.abort()
    clearTimeout(askTimer)
    const mine = (asking = new AbortController())
    const of = recipe.value
    if (!of) return
    try {
      const answer = await take(
        api.POST('/api/forecast', { body: { recipe: of, seed: id }, signal: mine.signal }),
      )
      if (mine !== asking) return
      reckoning.value = answer
      reckoned.value = of
      unreachable.value = null
    } catch (error) {
      if (mine !== asking || (error as Error).name === 'AbortError') return
      unreachable.value = (error as Error).message
      if (!(error instanceof Refused)) askTimer = window.setTimeout(reckon, TRY_AGAIN)
    }
  }

  async function save() {
    clearTimeout(saveTimer)
    if (saving) await saving
    const of = recipe.value
    if (!of || of === saved || saveState.value === 'conflict') return
    saveState.value = 'saving'
    saving = (async () => {
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
        if (recipe.value === of) saveState.value = 'saved'
        void client.invalidateQueries({ queryKey: ['recipes'] })
      } catch (error) {
        saveState.value = error instanceof Refused && error.problem.status === 409 ? 'conflict' : 'offline'
        if (saveState.value === 'offline') saveTimer = window.setTimeout(save, TRY_AGAIN)
      } finally {
        saving = null
      }
    })()
    await saving
  }

  function become(next: Recipe) {
    recipe.value = next
    if (saveState.value !== 'conflict') saveState.value = 'saving'
    clearTimeout(saveTimer)
    saveTimer = window.setTimeout(save, SAVE_AFTER)
    void reckon()
  }

  /** Change a copy of the recipe. Typing in one field (`what` is its pointer) is one step to undo, all else each its own. */
  function edit(what: string, change: (draft: Recipe) => void) {
    if (!recipe.value) return
    const next = structuredClone(toRaw(recipe.value))
    change(next)
    const now = Date.now()
    if (!what.startsWith('/') || what !== lastEdit.what || now - lastEdit.at > 1500)
      past.value = [...past.value.slice(-99), recipe.value]
    lastEdit = { what, at: now }
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
  }

  /** An edit that the server reckons, since it moves more than one figure. */
  async function adjust(act: Act) {
    const of = recipe.value
    if (!of) return
    try {
      const answer = await take(api.POST('/api/adjust', { body: { recipe: of, act } }))
      if (recipe.value !== of) return
      actFaults.value = []
      past.value = [...past.value.slice(-99), of]
      future.value = []
      lastEdit = { what: '', at: 0 }
      become(answer.recipe)
    } catch (error) {
      actFaults.value =
        error instanceof Refused
          ? error.problem.errors
          : [{ pointer: '', says: (error as Error).message, mends: [] }]
    }
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

  const faults = computed<Fault[]>(() => reckoning.value?.weighing.faults ?? [])
  const cautions = computed<Caution[]>(() => [
    ...(reckoning.value?.weighing.cautions ?? []),
    ...(reckoning.value?.supply?.short ?? []),
  ])
  /** Figures are shown only when they belong to exactly what stands in the fields. */
  const current = computed(() => reckoned.value === recipe.value && !unreadable.size && !unreachable.value)
  const sheet = computed(() =>
    unreadable.size || unreachable.value ? null : (reckoning.value?.weighing.sheet ?? null),
  )

  const flush = () => void save()
  window.addEventListener('pagehide', flush)
  onScopeDispose(() => {
    window.removeEventListener('pagehide', flush)
    clearTimeout(askTimer)
    asking?.abort()
    void save()
  })
  void load()

  return {
    id,
    recipe,
    missing,
    meta,
    reckoning,
    sheet,
    current,
    stale: computed(() => reckoned.value !== recipe.value),
    faults,
    cautions,
    unreachable,
    unreadable,
    saveState,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    edit,
    adjust,
    actFaults,
    lastPointer,
    mend,
    undo: () => step(past, future),
    redo: () => step(future, past),
    save,
    reload: load,
    faultsAt: (pointer: string) =>
      [...unreadable.values(), ...faults.value, ...actFaults.value].filter((f) => f.pointer === pointer),
    cautionsAt: (pointer: string) => cautions.value.filter((c) => c.pointer === pointer),
    /** What cannot be read in a field (null: it can), which now stands at `pointer`. */
    readable: (field: string, pointer: string, says: string | null) =>
      says === null ? unreadable.delete(field) : unreadable.set(field, { pointer, says, mends: [] }),
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
