/** Whether two values are the same as JSON, in whatever order the members of objects stand. */
export function sameJson(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  if (Array.isArray(a) || Array.isArray(b))
    return (
      Array.isArray(a) &&
      Array.isArray(b) &&
      a.length === b.length &&
      a.every((one, i) => sameJson(one, (b as unknown[])[i]))
    )
  const [these, those] = [a as Record<string, unknown>, b as Record<string, unknown>]
  // What is undefined is not there.
  const there = (of: Record<string, unknown>): string[] =>
    Object.keys(of).filter(key => of[key] !== undefined)
  const names = there(these)
  return (
    names.length === there(those).length &&
    names.every(key => Object.hasOwn(those, key) && sameJson(these[key], those[key]))
  )
}
