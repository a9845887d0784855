import { arrangementFor, readArrangement, type Arrangement, type Definition } from '@vast-meadow/engine'

/** An arrangement as it was kept, maybe by an older version; null: none was, or it cannot be read. */
export function keptArrangement(json: unknown, definition: Definition | null): Arrangement | null {
  if (!json || !definition) return null
  const read = readArrangement(json, null)
  return read.ok ? arrangementFor(definition, read.arrangement) : null
}
