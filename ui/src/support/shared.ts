/** Answers and drafts are replaced whole; what is equal in them stays the same object, so that nothing draws it anew. */
import { replaceEqualDeep } from '@tanstack/vue-query'
import { computed, type ComputedRef } from 'vue'

/** The new value, with every part that is equal to the old one's taken from there. */
export const sharing = <T>(was: unknown, now: T): T => replaceEqualDeep(was, now)

/** A computed value that changes only where it differs. */
export const shared = <T>(make: () => T): ComputedRef<T> => computed<T>((was) => sharing(was, make()))
