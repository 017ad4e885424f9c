/** Moving what stands in one vessel to another, by dragging or with Alt and an arrow. */
import { ref } from 'vue'
import { useShelf } from '../api/queries'
import { momentIn, VESSELS, type Vessel } from './moments'
import { injectDraft } from './useDraft'

export type Movable = { kind: 'additive' | 'liquid' | 'scent'; row: number; from: Vessel }

const held = ref<Movable | null>(null)

export function useMoves() {
  const draft = injectDraft()
  const { data: shelf } = useShelf()

  /** A fragrance stands in the fats or is stirred in; nothing else of it can be chosen here. */
  function takes(thing: Movable, vessel: Vessel): boolean {
    return vessel !== thing.from && !(thing.kind === 'scent' && vessel === 'jug')
  }

  function move(thing: Movable, vessel: Vessel) {
    if (!takes(thing, vessel)) return
    draft.edit(`move ${thing.kind} ${thing.row} ${vessel}`, (d) => {
      if (thing.kind === 'scent') d.design.scent_at = vessel === 'pot' ? 'fats' : 'portions'
      const use = d.liquids[thing.row]
      if (thing.kind === 'liquid' && use) use.goes = vessel
      const dose = d.additives[thing.row]
      if (thing.kind !== 'additive' || !dose) return
      const usual = shelf.value?.additives.find((a) => a.id === dose.additive)?.moment ?? 'trace'
      const moment = momentIn(vessel, usual)
      dose.moment = moment === usual ? null : moment
      if (vessel === 'jug' || (vessel === 'pot' && d.design.batching !== 'layers')) dose.into = null
      if (vessel !== 'stir') dose.carrier = null
    })
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
