/**
 * What can be undone, and done again. It outlives the place and the page: it is kept by recipe and tab, and taken up
 * where the recipe stands as it was left.
 */
import { useDebounceFn } from '@vueuse/core'
import { computed, onScopeDispose, shallowRef, toRaw, type ShallowRef } from 'vue'
import type { Recipe } from '../api/client'
import { histories } from '../keep/store'
import { same } from '../support/same'

const MOST = 100 // steps
const ONE_TYPING = 1500 // ms within which typing in one field is one step
const KEEP_AFTER = 150 // ms without another step

export function useHistory(id: string, recipe: ShallowRef<Recipe | null>) {
  const past = shallowRef<Recipe[]>([])
  const future = shallowRef<Recipe[]>([])

  function write() {
    const at = recipe.value
    if (at && (past.value.length || future.value.length))
      void histories
        .put(
          structuredClone({
            id,
            at: toRaw(at),
            past: past.value.map(toRaw),
            future: future.value.map(toRaw),
          }),
        )
        .catch(() => undefined)
  }
  const keep = useDebounceFn(write, KEEP_AFTER, { maxWait: KEEP_AFTER })
  onScopeDispose(write)

  /** What stands here was opened: steps that led to it are known again, and no others. */
  async function opened() {
    past.value = []
    future.value = []
    const kept = await histories.get(id).catch(() => undefined)
    if (!kept || !recipe.value || past.value.length || !same(kept.at, recipe.value)) return
    past.value = kept.past
    future.value = kept.future
  }
  let last = { what: '', at: 0 }
  /** What stood here before an edit; typing on in one field (`what` is its pointer) is one step. */
  function typed(what: string, before: Recipe) {
    const now = Date.now()
    const on = what.startsWith('/') && what === last.what && now - last.at <= ONE_TYPING
    if (!on) push(before)
    future.value = []
    last = { what, at: now }
  }
  /** What stood here before a new step. */
  function push(before: Recipe) {
    last = { what: '', at: 0 }
    past.value = [...past.value.slice(1 - MOST), before]
    future.value = []
  }
  /** What stood here one step before, or after; null where there is none. */
  function step(back: boolean): Recipe | null {
    const [from, to] = back ? [past, future] : [future, past]
    const next = from.value.at(-1)
    if (!next || !recipe.value) return null
    last = { what: '', at: 0 }
    to.value = [...to.value, recipe.value]
    from.value = from.value.slice(0, -1)
    return next
  }
  return {
    opened,
    typed,
    push,
    step,
    keep,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
  }
}
