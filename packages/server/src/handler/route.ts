import { QuestionError } from '../language/problem.ts'

/** Where a table’s changes are told, behind its name. */
export const EVENTS = '$events'
/** Where several requests are put at once. */
export const BATCH = '$batch'

/** The parts of the address behind where the handler is mounted. */
export function routeOf({ pathname }: URL, path: string): string[] {
  const base = path.replace(/\/+$/, '')
  if (!pathname.startsWith(base)) throw new QuestionError({ code: 'no-such-table', name: '' })
  try {
    return pathname.slice(base.length).split('/').filter(Boolean).map(decodeURIComponent)
  } catch {
    throw new QuestionError({ code: 'no-such-table', name: '' })
  }
}
