/** What was tapped, as marks on the ribbon and in a few words: how much of it is saved. */
import { computed } from 'vue'
import type { PourHandle } from './usePour'

export function useMarks(pour: PourHandle, practice: boolean) {
  const { view } = pour
  const UNMARKED = ['seen', 'temperature', 'smooth', 'colour', 'remark', 'verdict']
  const marks = computed(() =>
    (view.value?.events ?? [])
      .filter((e) => !UNMARKED.includes(e.event.kind))
      .map((e) => ({
        minute: e.event.minute,
        label: e.label,
        portion: 'portion' in e.event ? (e.event.portion ?? null) : null,
      })),
  )
  const kept = computed(() => {
    const n = view.value?.events.length ?? 0
    const open = pour.waiting.value.length
    if (pour.offline.value && open) return `${open} not saved yet; kept here, trying again`
    if (pour.offline.value) return 'no answer: taps are kept here, reckoned when there is one'
    if (open) return 'saving …'
    if (practice) return 'practice: nothing is kept'
    return n ? `${n} event${n > 1 ? 's' : ''}, all saved` : 'nothing logged yet'
  })
  return { marks, kept }
}
