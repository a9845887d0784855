import type { MeadowHandle } from './grid.ts'
import { textsOf } from './languages/languages.ts'
import type { MeadowOptions, RowsGiven } from './kernel/options.ts'

/** What a grid is made with and cannot be told later. */
const MADE_WITH = ['texts', 'locale', 'parts', 'placement', 'storage', 'unsaved', 'clock', 'link'] as const

/** Options written anew with every rendering are the same where they say the same. */
function says(option: unknown): string | null {
  try {
    const written = (_: string, value: unknown): unknown =>
      typeof value === 'function' ? String(value) : value
    return JSON.stringify(option, written) ?? null
  } catch {
    // What goes round in circles says nothing that could be compared.
    return null
  }
}

function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  const said = says(a)
  return said !== null && said === says(b)
}

/** A source that is written anew around the same file, list or recipe. */
function sameSource(a: RowsGiven | undefined, b: RowsGiven | undefined): boolean {
  if (a === b) return true
  if (!a || !b || Array.isArray(a) || Array.isArray(b) || 'view' in a || 'view' in b) return false
  const [had, has] = [Object.entries(a), Object.entries(b)]
  return (
    had.length === has.length &&
    had.every(([name, part], nth) => has[nth][0] === name && has[nth][1] === part)
  )
}

/**
 * Takes over to a mounted grid what differs between two sets of options; false, and nothing is done, where only mounting
 * anew can: then `handle.arrangement` holds what is arranged. Problems are told by the grid's `problem` event.
 */
export function followOptions(handle: MeadowHandle, before: MeadowOptions, now: MeadowOptions): boolean {
  if (MADE_WITH.some(name => !same(before[name], now[name]))) return false
  // Another language is spoken from the first word on.
  if (textsOf({ definition: before.definition }) !== textsOf({ definition: now.definition })) return false
  const [had, has] = [before.source ?? before.rows, now.source ?? now.rows]
  const redefined = !same(before.definition, now.definition)
  const told = (): void => {}
  handle.setAllow(now.allow ?? {})
  if (has && !sameSource(had, has))
    handle.setRows(has, redefined ? (now.definition ?? undefined) : undefined).catch(told)
  else if (redefined) handle.setDefinition(now.definition ?? null).catch(told)
  if (now.arrangement && !same(before.arrangement, now.arrangement))
    try {
      handle.arrange(now.arrangement)
    } catch {
      // The problem event says what is wrong with it.
    }
  return true
}
