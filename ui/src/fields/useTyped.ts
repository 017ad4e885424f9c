/**
 * What stands in a field that is fed from elsewhere: while the hand is in it its text is the hand's alone, and no answer
 * changes it. What was typed stands as it was typed, until what is there becomes another thing than was told.
 */
import { inject, provide, ref, watch, type InjectionKey, type Ref } from 'vue'

const REWRITE: InjectionKey<Ref<number>> = Symbol('rewrite')

/** Fields below show anew what is there when this counts up, whatever was typed in them: something was undone. */
export const provideRewrite = (count: Ref<number>) => provide(REWRITE, count)

/** `there` is what the field is fed, `write` its text; `rewritten` is called when that took the place of what was typed. */
export function useTyped<T>(there: () => T, write: (value: T) => string, rewritten = () => {}) {
  const text = ref(write(there()))
  let told = there()
  let before = told // what was there when it was told
  let inHand = false
  let touched = false

  function rewrite() {
    told = before = there()
    touched = false
    text.value = write(told)
    rewritten()
  }
  const another = () => there() !== told && there() !== before
  watch(there, () => {
    if (!inHand && there() !== told) rewrite()
  })
  const count = inject(REWRITE, null)
  if (count) watch(count, rewrite)

  return {
    text,
    rewrite,
    enter() {
      inHand = true
      touched = false
    },
    touch: () => (touched = true),
    touched: () => touched,
    tell(value: T) {
      told = value
      before = there()
    },
    /** The hand leaves. `keep`: what was typed cannot be read and stands open. */
    leave(keep = false) {
      inHand = false
      if (!keep && (touched ? another() : there() !== told)) rewrite()
    },
  }
}
