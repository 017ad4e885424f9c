/** The object that holds what a JSON pointer names, and the name it has there. */
export function placeOf(root: object, pointer: string): [owner: Record<string, unknown>, name: string] {
  const parts = pointer.split('/').slice(1)
  const name = parts.pop() ?? ''
  let at = root as Record<string, unknown>
  for (const part of parts) at = at[part] as Record<string, unknown>
  return [at, name]
}
