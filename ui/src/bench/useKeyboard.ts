/** Keys of a keyboard at the bench, where no dialog is open and nothing is being typed. */
import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'

export function useKeyboard(
  handles: Record<string, () => void>,
  running: Ref<boolean>,
  asking: Ref<unknown>,
) {
  function down(event: KeyboardEvent) {
    if (asking.value !== null || !running.value || event.repeat) return
    if (event.ctrlKey || event.metaKey || event.altKey || event.target instanceof HTMLInputElement) return
    handles[event.key.toLowerCase()]?.()
    if (asking.value !== null) event.preventDefault() // the letter is not typed into what has just opened
  }
  useEventListener('keydown', down)
}
