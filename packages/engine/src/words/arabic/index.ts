import type { EngineWords } from '../engine-words.ts'
import { conditions, difference, leftOut, linkProblem, summaries } from './arrangement.ts'
import { finding, remedy } from './findings.ts'
import { checkProblem, expressionProblem, partProblem, phraseProblem, refusal, type } from './problems.ts'
import { encodings, formats, general, ofColumns, style } from './reading.ts'
import { scene } from './scenes.ts'
import { readProblem, remark, sourceProblem } from './sources.ts'

/** All sentences of the engine in Arabic. */
export const arabic: EngineWords = {
  conditions,
  summaries,
  difference,
  leftOut,
  linkProblem,
  checkProblem,
  expressionProblem,
  partProblem,
  phraseProblem,
  readProblem,
  sourceProblem,
  refusal,
  remark,
  finding,
  remedy,
  style,
  type,
  scene,
  general,
  ofColumns,
  formats,
  encodings,
}

export { pluralsOf, type PluralForms } from '../plural.ts'
export type { EngineWords } from '../engine-words.ts'
