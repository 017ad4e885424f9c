/** Whose batter the keys are about: chosen by a tap, at a lane or at the big key, and by nothing else. */
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import type { PourView } from '../api/client'

export function useChosen(view: Ref<PourView | null>, splitTapped: ComputedRef<boolean>) {
  const portion = ref<string | null>(null)
  const portions = computed(() => view.value?.recipe.design.portions.map((p) => p.name) ?? [])
  /** Whether there are lanes to choose from: the pot was split, or some portion is a batch of its own. */
  const split = computed(
    () =>
      portions.value.length > 1 &&
      (splitTapped.value ||
        view.value?.split !== null ||
        view.value?.pouring !== null ||
        view.value.recipe.design.portions.some((p) => p.batch)),
  )
  const lane = computed(() => view.value?.bench.lanes.find((l) => l.portion === portion.value))
  const where = computed(() => portion.value ?? (split.value ? 'all of it' : 'the pot'))

  let pressed = false
  /** The big key was pressed: what its answer leads to is chosen then, once. */
  const lead = () => (pressed = true)
  function choose(name: string | null) {
    pressed = false
    portion.value = name
  }
  function next(by: number) {
    if (!split.value) return
    const at = portion.value === null ? -1 : portions.value.indexOf(portion.value)
    choose(portions.value[(at + by + portions.value.length) % portions.value.length] ?? null)
  }
  watch(
    () => [view.value?.bench.choose, view.value?.events.length, split.value] as const,
    ([likely, taps], before) => {
      if (likely === undefined) return
      // A renamed portion, and the first look at a bench that runs, have no choice of their own yet.
      const lost = portion.value !== null && !portions.value.includes(portion.value)
      if (before === undefined || before[1] === undefined || lost) choose(likely)
      else if (pressed && taps !== before[1]) choose(likely)
    },
    { immediate: true },
  )
  return { portion, portions, split, lane, where, choose, lead, next }
}
