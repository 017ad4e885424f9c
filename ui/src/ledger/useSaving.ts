/** A draft on its way to disk: saved a moment after it was typed, once, on the revision it was typed on. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref, shallowRef, toRaw, type ShallowRef } from 'vue'
import { api, Refused, take, type Recipe } from '../api/client'
import { drafts } from '../keep/store'
import { same } from '../support/same'

const SAVE_AFTER = 500 // ms of quiet before a draft is written to disk
const TRY_AGAIN = 2000

export type SaveState = 'saved' | 'saving' | 'offline' | 'conflict'
interface Stored {
  revision: number
  recipe: Recipe
}

export function useSaving(id: string, recipe: ShallowRef<Recipe | null>, meta: { revision: number }) {
  const client = useQueryClient()
  const saveState = ref<SaveState>('saved')
  /** What another window saved meanwhile. */
  const theirs = shallowRef<Stored | null>(null)
  let saveTimer = 0
  let saving: Promise<void> | null = null
  let saved: Recipe | null = null
  let unanswered: Recipe[] = [] // sent, and nothing came back
  let took = '' // what a tab that is closed had typed, by the key it was kept under

  /** What was typed is saved, or given up. */
  const forget = () => drafts.drop(id, took).catch(() => undefined)

  /** A recipe was opened; what was typed here before and never saved goes on from there, or waits for a choice. */
  async function opened(view: Stored) {
    const kept = await drafts.get(id).catch(() => undefined)
    took = kept?.key ?? ''
    meta.revision = view.revision
    saved = view.recipe
    saveState.value = 'saved'
    theirs.value = null
    recipe.value = view.recipe
    if (kept && !same(kept.recipe, view.recipe)) {
      recipe.value = kept.recipe
      if (kept.revision === view.revision) void save()
      else disagree({ revision: view.revision, recipe: view.recipe })
    } else if (kept) void forget()
  }

  function disagree(other: Stored) {
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

  /** Something was typed: kept in this browser at once, so that it outlives the page, and saved when it is quiet. */
  function saveSoon(next: Recipe) {
    if (saveState.value !== 'conflict') saveState.value = 'saving'
    void drafts
      .put({ id, revision: meta.revision, recipe: structuredClone(toRaw(next)) })
      .catch(() => undefined)
    clearTimeout(saveTimer)
    saveTimer = window.setTimeout(save, SAVE_AFTER)
  }

  /** Mine is written over what another window saved; what that was comes back, for the undo here. */
  function writeOver(): Recipe | null {
    const other = theirs.value
    if (!other) return null
    meta.revision = other.revision
    theirs.value = null
    saveState.value = 'saving'
    saved = null
    return other.recipe
  }
  /** What another window saved stands here too; what stood here comes back. */
  function giveWay(): Recipe | null {
    const other = theirs.value
    const mine = recipe.value
    if (!other) return null
    meta.revision = other.revision
    saved = other.recipe
    recipe.value = other.recipe
    theirs.value = null
    saveState.value = 'saved'
    void forget()
    return mine
  }
  return { saveState, theirs, opened, save, saveSoon, writeOver, giveWay }
}
