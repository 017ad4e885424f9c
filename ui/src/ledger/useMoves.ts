/** Moving what stands in one vessel to another, by dragging or with Alt and an arrow. */
import { ref } from 'vue'
import { VESSELS, type Vessel } from './moments'
import { injectDraft } from './useDraft'

export type Movable = { kind: 'additive' | 'liquid' | 'scent'; row: number; from: Vessel }

const held = ref<Movable | null>(null)

export function useMoves() {
  const draft = injectDraft()

  /** A fragrance stands in the fats or is stirred in; nothing else of it can be chosen here. */
  function takes(thing: Movable, vessel: Vessel): boolean {
    return vessel !== thing.from && !(thing.kind === 'scent' && vessel === 'jug')
  }

  function move(thing: Movable, vessel: Vessel) {
    if (!takes(thing, vessel)) return
    void draft.adjust({ kind: 'move_thing', what: thing.kind, row: thing.row, vessel })
  }

  function key(event: KeyboardEvent, thing: Movable) {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (!event.altKey || !by) return
    event.preventDefault()
    for (let i = VESSELS.indexOf(thing.from) + by; VESSELS[i]; i += by) {
      const vessel = VESSELS[i] as Vessel
      if (takes(thing, vessel)) return move(thing, vessel)
    }
  }

  /** What a row needs to be picked up. */
  const handle = (thing: Movable) => ({
    draggable: true,
    onDragstart: (event: DragEvent) => {
      held.value = thing
      event.dataTransfer?.setData('text/plain', thing.kind)
    },
    onDragend: () => (held.value = null),
    onKeydown: (event: KeyboardEvent) => key(event, thing),
  })

  /** What a vessel needs to be put into. */
  const target = (vessel: Vessel) => ({
    onDragover: (event: DragEvent) => {
      if (held.value && takes(held.value, vessel)) event.preventDefault()
    },
    onDrop: (event: DragEvent) => {
      if (!held.value) return
      event.preventDefault()
      move(held.value, vessel)
      held.value = null
    },
  })
  const welcome = (vessel: Vessel) => held.value !== null && takes(held.value, vessel)

  return { handle, target, welcome }
}
