import type { ReadProblem } from './read-report.ts'

/** Why rows could not be had: a code, and the facts that a message needs. */
export type SourceProblem =
  | ReadProblem
  | { readonly code: 'recipe-not-valid'; readonly path: string; readonly reason: string }
  | { readonly code: 'no-such-source'; readonly kind: string; readonly kinds: readonly string[] }
  | { readonly code: 'failed'; readonly reason: string }
