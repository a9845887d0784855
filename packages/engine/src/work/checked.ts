/** What must be there by what was done before; throws where it is not. */
export function sure<Value>(value: Value | null | undefined): Value {
  if (value === null || value === undefined) throw new Error('Something that must be there is not.')
  return value
}

/** What was thrown, as an error. */
export const errorOf = (thrown: unknown): Error =>
  thrown instanceof Error ? thrown : new Error(String(thrown))

/** The keys of an object that has no others than its type says. */
export const keysIn = <Of extends object>(of: Of): (keyof Of)[] => Object.keys(of) as (keyof Of)[]

export const isOneOf = <Value>(list: readonly Value[], given: unknown): given is Value =>
  list.some(value => value === given)

export const isKeyOf = <Of extends object>(of: Of, given: PropertyKey): given is keyof Of =>
  Object.hasOwn(of, given)

export const isRecord = (given: unknown): given is Readonly<Record<string, unknown>> =>
  typeof given === 'object' && given !== null
