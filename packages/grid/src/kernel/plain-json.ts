/**
 * A copy of what a host gives as JSON: plain objects, whatever a framework keeps them in, and nothing that changes when
 * the host's own does. What is no JSON is left out.
 */
export const plainJson = <T>(given: T): T => JSON.parse(JSON.stringify(given)) as T

/**
 * The same for values that JSON has none for: lists and plain objects are copied, dates and all else are handed on.
 * A framework's wrappers cannot be posted to a worker.
 */
export function plainCopy<T>(given: T): T
export function plainCopy(given: unknown): unknown {
  if (Array.isArray(given)) return given.map((one: unknown): unknown => plainCopy(one))
  if (typeof given !== 'object' || given === null) return given
  const kind: unknown = Object.getPrototypeOf(given)
  if (kind !== Object.prototype && kind !== null) return given
  return Object.fromEntries(Object.entries(given).map(([name, value]) => [name, plainCopy(value)]))
}
