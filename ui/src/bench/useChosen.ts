/** Whose batter the keys are about: chosen by hand, or by itself when the next thing is likely to be another's. */
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import type { PourView } from '../api/client'

const HANDS = 6000 // ms in which a hand that has just been at a portion is not led to another

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

  let byHand = -Infinity
  /** A hand is at this portion: it stays chosen for a while. */
  const hold = () => (byHand = performance.now())
  function choose(name: string | null) {
    hold()
    portion.value = name
  }
  function next(by: number) {
    if (!split.value) return
    const at = portion.value === null ? -1 : portions.value.indexOf(portion.value)
    choose(portions.value[(at + by + portions.value.length) % portions.value.length] ?? null)
  }
  watch(
    () => [view.value?.bench.choose, view.value?.advice.headline, split.value] as const,
    ([likely, headline], before) => {
      const known = portions.value.includes(portion.value ?? '')
      if (likely === undefined || (known && performance.now() - byHand < HANDS)) return
      if (!known || likely !== before?.[0] || headline !== before[1]) portion.value = likely
    },
    { immediate: true },
  )
  return { portion, portions, split, lane, where, choose, hold, next }
}
