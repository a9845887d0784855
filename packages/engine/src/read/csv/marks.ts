import type { ReadOptions, ReadProblem } from '../read-report.ts'

/** Characters that mean something else in delimited text. */
const TAKEN = /["\r\n\0]/

/** Why a delimiter or a mark of comments that was given cannot be one; null: they can. */
export function markProblem({ delimiter, comment }: ReadOptions): ReadProblem | null {
  for (const [what, given] of [
    ['delimiter', delimiter],
    ['comment', comment],
  ] as const) {
    if (!given) continue
    if (TAKEN.test(given) || Array.from(given).length !== 1 || (what === 'comment' && given === delimiter))
      return { code: 'not-a-mark', what, given }
  }
  return null
}

/** The delimiter that the first line names, as some spreadsheets write it: `sep=;`. */
export function namedDelimiter(sample: Uint8Array): string | null {
  const first = new TextDecoder().decode(sample.subarray(0, 32))
  return /^"?sep=([^"\r\n])"?(?:\r\n|\r|\n)/i.exec(first)?.[1] ?? null
}
