import { CancelledError, SourceError } from '@vast-meadow/engine/client'
import type { ArrangementProblem, DefinitionProblem } from '@vast-meadow/engine'
import type { Texts } from './texts.ts'

/** What went wrong, as the `problem` event tells it: what was shown before stays. */
export interface Problem {
  /**
   * What kind of problem it is: the code of a source's, an arrangement's or a definition's problem, `no-such-field` for
   * columns without a field, `expression`, `action-failed`, `painter-failed`, `no-such-painter`, `feature-failed`, `part-not-loaded`, or `failed` for anything else.
   */
  readonly code: string
  /** A sentence for people. */
  readonly message: string
  /** Where in a definition or an arrangement, as in `order.0.column`. */
  readonly path?: string
  readonly column?: string
  /** The name that may have been meant. */
  readonly nearest?: string | null
}

const written = (
  problems: readonly { readonly path: string; readonly message: string }[],
  of: string,
): string => problems.map(({ path, message }) => `${path || of}: ${message}`).join('\n')

/** An arrangement from code names what is not there, or is no arrangement; nothing was changed. */
export class ArrangementError extends TypeError {
  override readonly name = 'ArrangementError'
  readonly problems: readonly ArrangementProblem[]
  constructor(problems: readonly ArrangementProblem[]) {
    super(written(problems, 'arrangement'))
    this.problems = problems
  }
}

/** A definition cannot be used; the one before it stays. */
export class DefinitionError extends TypeError {
  override readonly name = 'DefinitionError'
  readonly problems: readonly DefinitionProblem[]
  constructor(problems: readonly DefinitionProblem[]) {
    super(written(problems, 'definition'))
    this.problems = problems
  }
}

/** What is told of an error: in the host's words where it has a code, else as whoever threw it says. */
export function saidError(error: unknown, { sourceProblem }: Texts): string {
  if (error instanceof SourceError) return sourceProblem(error.problem)
  return error instanceof Error ? error.message : String(error)
}

/** What the `problem` event tells of an error; null for giving up, which is none. */
export function problemOf(error: unknown, texts: Texts): Problem | null {
  if (error instanceof CancelledError) return null
  const message = saidError(error, texts)
  if (error instanceof SourceError) return { code: error.problem.code, message }
  if (error instanceof ArrangementError || error instanceof DefinitionError) {
    const [{ code, path }] = error.problems
    return { code, path, message }
  }
  return { code: 'failed', message }
}
