/** What must outlive a page or a server that is away, in this browser's own database: taps, and drafts not yet saved. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { PourEvent, PourView, Recipe } from '../api/client'
import { me, open } from './tab'

export interface KeptTap {
  id: string
  /** Order of tapping, over all tabs. */
  seq: number
  pour: string
  event: PourEvent
  /** Why the server could not read it, or did not take it; it stays listed until it is sent again or put away. */
  refused?: string
}
/** A draft of one tab: two that have the same recipe open keep each its own. */
export interface KeptDraft {
  key: string
  id: string
  tab: string
  at: number
  revision: number
  recipe: Recipe
}
/** What can be undone in a draft of one tab, and the recipe it leads to. */
export interface KeptHistory {
  key: string
  id: string
  written: number
  at: Recipe
  past: Recipe[]
  future: Recipe[]
}
/** What the bench of a pour last showed, and when by this device's clock. */
export interface KeptView {
  id: string
  wall: number
  minute: number
  view: PourView
}
interface Kept extends DBSchema {
  taps: { key: string; value: KeptTap }
  drafts: { key: string; value: Omit<KeptDraft, 'key' | 'tab' | 'at'> }
  typed: { key: string; value: KeptDraft }
  views: { key: string; value: KeptView }
  histories: { key: string; value: KeptHistory }
}
const VIEWS = 4 // benches that are kept, the latest
const HISTORIES = 12 // drafts whose steps are kept, the latest

let opened: Promise<IDBPDatabase<Kept>> | null = null

function database(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>('roundstone', 3, {
    upgrade(db, before) {
      if (before < 1) {
        db.createObjectStore('taps', { keyPath: 'id' })
        db.createObjectStore('drafts', { keyPath: 'id' })
      }
      if (before < 2) {
        db.createObjectStore('typed', { keyPath: 'key' })
        db.createObjectStore('views', { keyPath: 'id' })
      }
      db.createObjectStore('histories', { keyPath: 'key' })
    },
    // Another tab has a newer program: it may go on, and this one opens anew when it needs to.
    blocking: (_old, _new, event) => ((event.target as IDBDatabase).close(), (opened = null)),
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

export const views = {
  get: async (id: string) => (await database()).get('views', id),
  async put(kept: KeptView) {
    const db = await database()
    await db.put('views', kept)
    const all = (await db.getAll('views')).sort((a, b) => b.wall - a.wall)
    for (const old of all.slice(VIEWS)) await db.delete('views', old.id)
  },
  drop: async (id: string) => (await database()).delete('views', id),
}

export const histories = {
  get: async (id: string) => (await database()).get('histories', `${id} ${me()}`),
  async put(kept: Omit<KeptHistory, 'key' | 'written'>) {
    const db = await database()
    await db.put('histories', { ...kept, key: `${kept.id} ${me()}`, written: Date.now() })
    const all = (await db.getAll('histories')).sort((a, b) => b.written - a.written)
    for (const old of all.slice(HISTORIES)) await db.delete('histories', old.key)
  },
}

export const drafts = {
  /** This tab's own of a recipe; else what a tab that is closed left, the latest first. */
  async get(id: string): Promise<KeptDraft | undefined> {
    const db = await database()
    const old = await db.get('drafts', id)
    const of = [...(await db.getAll('typed')).filter((d) => d.id === id)].sort((a, b) => b.at - a.at)
    const mine = of.find((d) => d.tab === me())
    if (mine) return mine
    const alive = await open()
    const left = of.find((d) => !alive.has(d.tab))
    if (left) return left
    return old && { ...old, key: '', tab: '', at: 0 }
  },
  async put(draft: Pick<KeptDraft, 'id' | 'revision' | 'recipe'>) {
    const db = await database()
    await db.put('typed', { ...draft, key: `${draft.id} ${me()}`, tab: me(), at: Date.now() })
  },
  /** Saved, or given up: this tab's own, and what it took over. */
  async drop(id: string, took = '') {
    const db = await database()
    await db.delete('typed', `${id} ${me()}`)
    if (took) await db.delete('typed', took)
    else await db.delete('drafts', id)
  },
}
