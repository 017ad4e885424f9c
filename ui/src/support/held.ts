/** A value that may be drawn a moment after it is set: what is typed is drawn once, with what it comes to. */
import { customRef, onScopeDispose, type ShallowRef } from 'vue'

const LONGEST = 60 // ms: what it comes to may not be known by then, and it is drawn without

/** Whoever reads it reads the newest; those who draw it are told when it is let go. */
export function heldRef<T>(first: T) {
  let value = first
  let timer = 0
  let tell = () => {}
  const ref = customRef<T>((track, trigger) => {
    tell = trigger
    return {
      get: () => (track(), value),
      set: (next) => {
        if (next === value) return
        hold(next)
        letGo()
      },
    }
  }) as ShallowRef<T>

  function hold(next: T) {
    value = next
    timer ||= window.setTimeout(letGo, LONGEST)
  }
  function letGo() {
    if (!timer) return
    clearTimeout(timer)
    timer = 0
    tell()
  }
  onScopeDispose(() => clearTimeout(timer))
  return { ref, hold, letGo }
}
