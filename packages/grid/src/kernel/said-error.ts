import { SourceError } from '@vast-meadow/engine/client'
import type { Texts } from './texts.ts'

/** What is told of an error: in the host's words where it has a code, else as whoever threw it says. */
export function saidError(error: unknown, { sourceProblem }: Texts): string {
  if (error instanceof SourceError) return sourceProblem(error.problem)
  return error instanceof Error ? error.message : String(error)
}
