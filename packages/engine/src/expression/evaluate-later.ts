import type { evaluateAlone as evaluate, Evaluated } from './evaluate-alone.ts'

/** What an expression comes to that speaks of no row. What works it out is loaded when it is first called. */
export const evaluateAlone = async (...asked: Parameters<typeof evaluate>): Promise<Evaluated> =>
  (await import('./evaluate-alone.ts')).evaluateAlone(...asked)
