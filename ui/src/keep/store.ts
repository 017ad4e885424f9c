/** What must outlive a page or a server that is away, in this browser's own database: taps, and drafts not yet saved. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { PourEvent, Recipe } from '../api/client'

export interface KeptTap {
  id: string
  /** Order of tapping, over all tabs. */
  seq: number
  pour: string
  event: PourEvent
  /** Why the server could not read it; it stays listed until it is put away. */
  refused?: string
}
export interface KeptDraft {
  id: string
  revision: number
  recipe: Recipe
}
interface Kept extends DBSchema {
  taps: { key: string; value: KeptTap }
  drafts: { key: string; value: KeptDraft }
}

let opened: Promise<IDBPDatabase<Kept>> | null = null

function database(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>('roundstone', 1, {
    upgrade(db) {
      db.createObjectStore('taps', { keyPath: 'id' })
      db.createObjectStore('drafts', { keyPath: 'id' })
    },
    terminated: () => (opened = null),
  })
  opened.catch(() => (opened = null))
  return opened
}

export const taps = {
  all: async () => (await database()).getAll('taps'),
  put: async (tap: KeptTap) => void (await (await database()).put('taps', tap)),
  drop: async (id: string) => (await database()).delete('taps', id),
}
export const drafts = {
  get: async (id: string) => (await database()).get('drafts', id),
  put: async (draft: KeptDraft) => void (await (await database()).put('drafts', draft)),
  drop: async (id: string) => (await database()).delete('drafts', id),
}
