import { isRecord } from '../work/checked.ts'

type Json = Readonly<Record<string, unknown>>

/** By version: what makes a definition of that version one of the next. Old ones are opened for ever. */
const STEPS: Readonly<Record<number, (definition: Json) => Json>> = {
  // A key was one field or none; now it is a list of fields.
  1: ({ key, ...rest }) => ({ ...rest, version: 2, key: typeof key === 'string' ? [key] : [] }),
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
