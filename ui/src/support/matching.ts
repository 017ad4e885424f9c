/** Which things are meant by what was typed: by any of their names, without accents, a letter wrong in longer words. */
export interface Named {
  name: string
  hint?: string
  also?: readonly string[]
}

const plain = (text: string) =>
  text
    .toLowerCase()
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
const words = (text: string) =>
  plain(text)
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
const LONG = 5 // letters from which one may be wrong

/** Whether two words differ by one letter: another, one too many or few, or two that changed places. */
export function near(a: string, b: string): boolean {
  if (Math.abs(a.length - b.length) > 1) return false
  let i = 0
  while (i < a.length && a[i] === b[i]) i++
  const [x, y] = [a.slice(i), b.slice(i)]
  return (
    x.slice(1) === y.slice(1) ||
    x.slice(1) === y ||
    x === y.slice(1) ||
    (x[0] === y[1] && x[1] === y[0] && x.slice(2) === y.slice(2))
  )
}

/** A name that is just what was typed comes before one that begins so. */
const rank = (name: string, typed: string) => Number(name === typed) + Number(name.startsWith(typed))

/** Those whose names hold every word that was typed; where there are none, those that nearly do. The best first. */
export function matching<T extends Named>(all: readonly T[], typed: string): T[] {
  const asked = words(typed)
  if (!asked.length) return [...all]
  const texts = all.map((o) => ({
    o,
    name: plain(o.name),
    all: plain([o.name, o.hint, ...(o.also ?? [])].join(' ')),
  }))
  const exact = texts.filter((t) => asked.every((w) => t.all.includes(w)))
  const first = plain(typed).trim()
  if (exact.length) return exact.sort((a, b) => rank(b.name, first) - rank(a.name, first)).map((t) => t.o)
  const loose = (w: string, text: string) =>
    text.includes(w) ||
    (w.length >= LONG && words(text).some((other) => near(w, other.slice(0, w.length + 1)) || near(w, other)))
  return texts.filter((t) => asked.every((w) => loose(w, t.all))).map((t) => t.o)
}
