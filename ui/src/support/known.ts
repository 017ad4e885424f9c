/** Small things that were known last, for a page that opens while the server cannot be asked. */

export function remember(key: string, what: unknown) {
  try {
    localStorage.setItem(key, JSON.stringify(what))
  } catch {
    // Nowhere to keep it: it is asked again.
  }
}

export function recall<T>(key: string): T | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null') as T | null
  } catch {
    return null
  }
}

/** Waits for an answer, but no longer than a page may; a refusal leaves what was known. */
export const soon = (asked: Promise<unknown>, wait = 2000) =>
  Promise.race([asked.catch(() => undefined), new Promise((done) => setTimeout(done, wait))])
