import { onScopeDispose, ref, watch, type Ref } from 'vue'

const SETTLED = 1200 // ms without a change

/** What a value comes to rest at: drawing it anew at every tap would hold up the taps. */
export function useSettled<T>(value: () => T): Ref<T> {
  const settled = ref(value()) as Ref<T>
  let timer = 0
  watch(value, (next) => {
    clearTimeout(timer)
    timer = window.setTimeout(() => (settled.value = next), SETTLED)
  })
  onScopeDispose(() => clearTimeout(timer))
  return settled
}
