/** What is wrong with a draft and what is risky, by the field it is about. */
import { computed, type ComputedRef, type Ref } from 'vue'
import { shared } from '../support/shared'
import type { Caution, Fault, Weights } from '../api/client'

const NONE: never[] = []

function byPointer<T extends { pointer: string }>(all: T[], alike: (a: T, b: T) => boolean) {
  const found = new Map<string, T[]>()
  for (const one of all) {
    const there = found.get(one.pointer) ?? []
    if (!there.some((x) => alike(x, one))) found.set(one.pointer, [...there, one])
  }
  return found
}

/** What is said at one pointer: who asks is told again only where that changes. */
function at<T>(all: Ref<Map<string, T[]>>) {
  const each = new Map<string, ComputedRef<T[]>>()
  return (pointer: string) => {
    const found = each.get(pointer) ?? shared(() => all.value.get(pointer) ?? NONE)
    each.set(pointer, found)
    return found.value
  }
}

export function useComplaints(
  weighed: Ref<Weights | null>,
  unreadable: ReadonlyMap<string, Fault>,
  actFaults: Ref<Fault[]>,
) {
  const faults = shared<Fault[]>(() => weighed.value?.weighing.faults ?? [])
  const cautions = shared<Caution[]>(() => [
    ...(weighed.value?.weighing.cautions ?? []),
    ...(weighed.value?.supply?.certificates ?? []),
    ...(weighed.value?.supply?.short ?? []),
  ])
  // By pointer, once for all fields that ask.
  const faultsBy = computed(() =>
    byPointer(
      [...unreadable.values(), ...faults.value, ...actFaults.value],
      (f, g) => f.message === g.message,
    ),
  )
  const cautionsBy = computed(() => byPointer(cautions.value, () => false))
  return {
    faults,
    cautions,
    faultsAt: at(faultsBy),
    cautionsAt: at(cautionsBy),
  }
}
