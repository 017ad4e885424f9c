/** Which tab this is, the same after it is loaded anew, and which tabs are open. */

import { recall, remember } from '../support/known'

const KEPT = 'round-stone-tab'
const BEFORE = 'tab '
const fresh = () => Math.random().toString(36).slice(2, 12)
let id = ''
const keep = () => remember(KEPT, id, 'tab')

/** Held as long as this tab is open; a tab that was copied from one that is open takes a name of its own. */
async function hold() {
  const held = await new Promise<boolean>((done) => {
    void navigator.locks
      .request(BEFORE + id, { ifAvailable: true }, (lock) => {
        done(lock !== null)
        return lock ? new Promise<void>(() => {}) : undefined
      })
      .catch(() => done(true))
  })
  if (held) return keep()
  id = fresh()
  await hold()
}

export function me(): string {
  if (!id) {
    id = recall<string>(KEPT, 'tab') || fresh()
    keep()
  }
  return id
}

/** Once, before anything is read of what tabs kept. */
export const begin = () => (me(), navigator.locks ? hold() : Promise.resolve())

/** The tabs that are open; where the browser cannot say, all are taken for closed but this one. */
export async function open(): Promise<Set<string>> {
  const held = (await navigator.locks?.query().catch(() => undefined))?.held ?? []
  return new Set([
    id,
    ...held.flatMap((l) => (l.name?.startsWith(BEFORE) ? [l.name.slice(BEFORE.length)] : [])),
  ])
}
