import { isRecord } from '../work/checked.ts'

type Json = Readonly<Record<string, unknown>>

/** An arrangement of before there were levels: one column, and groups by their value alone. */
export function migratedArrangement(json: unknown): unknown {
  if (!isRecord(json) || Array.isArray(json)) return json
  const { group, open, ...rest } = json
  const made: Record<string, unknown> = { ...rest }
  if (group !== undefined && made.groups === undefined) made.groups = group === null ? [] : [group]
  if (isRecord(open) && 'all' in open) {
    const except = Array.isArray(open.except) ? open.except.map((value: unknown) => [value]) : []
    made.open = { levels: open.all === false ? 0 : null, except }
  } else if (open !== undefined) made.open = open
  return made
}

/** By version: what makes a definition of that version one of the next. Old ones are opened for ever. */
const STEPS: Readonly<Record<number, (definition: Json) => Json>> = {
  // A key was one field or none; now it is a list of fields.
  1: ({ key, ...rest }) => ({ ...rest, version: 2, key: typeof key === 'string' ? [key] : [] }),
  // There was one level of groups, named by its column.
  2: ({ start, ...rest }) => ({
    ...rest,
    version: 3,
    ...(start === undefined ? {} : { start: migratedArrangement(start) }),
  }),
}

/** A definition as the newest version has it; what is no definition is left to the check. */
export function migrated(json: unknown): unknown {
  let current = json
  for (;;) {
    if (!isRecord(current)) return current
    const step = typeof current.version === 'number' ? STEPS[current.version] : undefined
    if (!step) return current
    current = step(current)
  }
}
