/** Small things that were known last, for a page that opens while the server cannot be asked; where a browser keeps
    nothing, they are asked again. */

type Where = 'device' | 'tab'
const store = (where: Where) => (where === 'tab' ? sessionStorage : localStorage)

export function remember(key: string, what: unknown, where: Where = 'device') {
  try {
    store(where).setItem(key, JSON.stringify(what))
  } catch {
    // Nowhere to keep it.
  }
}

export function recall<T>(key: string, where: Where = 'device'): T | null {
  try {
    return JSON.parse(store(where).getItem(key) ?? 'null') as T | null
  } catch {
    return null
  }
}

/** Waits for an answer, but no longer than a page may; a refusal leaves what was known. */
export const soon = (asked: Promise<unknown>, wait = 2000) =>
  Promise.race([asked.catch(() => undefined), new Promise((done) => setTimeout(done, wait))])
