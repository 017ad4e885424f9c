/** A batch at rest: its view, and what is tapped, which goes through the app's outbox like taps at the bench. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { api, Refused, take, type PourEvent, type Schemas } from '../api/client'
import { newId } from '../support/newId'
import { outbox } from '../keep/outbox'

const AGAIN = 60_000 // ms: days pass slowly
const SOON = 2_000 // ms, while the log is still being learned from

export function useRest(id: string) {
  const client = useQueryClient()
  const path = { pour_id: id }
  const query = useQuery({
    queryKey: ['rest', id],
    queryFn: () => take(api.GET('/api/pours/{pour_id}/rest', { params: { path } })),
    refetchInterval: (asked) => (asked.state.data?.fresh === false ? SOON : AGAIN),
    retry: (times, error) => !(error instanceof Refused) && times < 30,
  })
  const sections = useQuery({
    queryKey: ['rest', id, 'sections'],
    queryFn: () => take(api.GET('/api/pours/{pour_id}/sections', { params: { path } })),
    staleTime: AGAIN,
    retry: false,
  })
  const tick = ref(Date.now())
  useIntervalFn(() => (tick.value = Date.now()), 20_000)
  /** When it happened, where that was not just now: local time as a field has it. */
  const earlier = ref('')

  const forget = outbox.listen((pour) => {
    if (pour !== id) return
    for (const key of ['rest', 'pours', 'fragrances', 'learning'])
      void client.invalidateQueries({ queryKey: [key], exact: false })
  })
  onScopeDispose(forget)

  const view = computed(() => query.data.value ?? null)
  const fault = computed(() => (query.error.value instanceof Refused ? query.error.value : null))
  /** The server did not answer the last time it was asked. */
  const away = computed(() => query.failureCount.value > 0 && !fault.value)
  const waiting = computed(() => outbox.of(id).length)
  const now = computed(() => new Date(tick.value))
  /** Minutes since the server told the time: its clock counts, this device only runs on from there. */
  const since = () => Math.max(0, tick.value - query.dataUpdatedAt.value) / 60_000
  const hours = computed(() => (view.value ? view.value.now.hours + since() / 60 : 0))
  const ended = computed(() => new Date(tick.value - hours.value * 3_600_000))
  watch(query.dataUpdatedAt, () => (tick.value = Date.now()))

  /** The pour's minute at a moment of this device's wall. */
  function minuteOf(wall: number): number {
    tick.value = Date.now()
    return Math.max(0, (view.value as Schemas['RestView']).minute + since() + (wall - tick.value) / 60_000)
  }
  async function tap(event: Record<string, unknown>) {
    const wall = earlier.value ? new Date(earlier.value).getTime() : Date.now()
    const minute = minuteOf(Number.isNaN(wall) ? Date.now() : wall)
    earlier.value = ''
    await outbox.put(id, { ...event, id: newId(), minute, sure: false } as unknown as PourEvent)
  }
  const undo = (target: string) => tap({ kind: 'undo', target })
  const answer = (target: string, keep: boolean) =>
    keep ? tap({ kind: 'kept', target }) : tap({ kind: 'undo', target })
  const refresh = () => client.invalidateQueries({ queryKey: ['rest'], exact: false })

  return { view, fault, away, sections, now, ended, hours, earlier, waiting, tap, undo, answer, refresh }
}
