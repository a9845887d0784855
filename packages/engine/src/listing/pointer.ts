/** What a JSON Pointer (RFC 6901) leads to; undefined: nowhere. */
export function pointed(document: unknown, pointer: string): unknown {
  let at = document
  for (const step of pointer.split('/').slice(1)) {
    const name = step.replaceAll('~1', '/').replaceAll('~0', '~')
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, name)) return undefined
    at = (at as Record<string, unknown>)[name]
  }
  return at
}
