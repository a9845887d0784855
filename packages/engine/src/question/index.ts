import { cells } from './cells.ts'
import { cellsHolding } from './cells-holding.ts'
import { checkKey } from './check-key.ts'
import { checkRows } from './check-rows.ts'
import { description } from './description.ts'
import { explain } from './explain.ts'
import { exportBatch, exportEnd } from './export-batch.ts'
import { exportSheet } from './export-sheet.ts'
import { exportText } from './export-text.ts'
import { facets } from './facets.ts'
import { findMatch } from './find-match.ts'
import { findRows } from './find-rows.ts'
import { firstFrom } from './first-from.ts'
import { groupAt } from './group-at.ts'
import { keysOf } from './keys-of.ts'
import { lengthMap } from './length-map.ts'
import { levelGroups } from './level-groups.ts'
import { linesOf } from './lines-of.ts'
import { longestTexts } from './longest-texts.ts'
import { passingRows } from './passing-rows.ts'
import { pending } from './pending.ts'
import { profile } from './profile.ts'
import { proposeKeys } from './propose-keys.ts'
import type { Question } from './question.ts'
import { records } from './records.ts'
import { rowCells } from './row-cells.ts'
import { rowsBetween } from './rows-between.ts'
import { rowsOfGroup } from './rows-of-group.ts'
import { savedCells } from './saved-cells.ts'
import { nextSelected, passingAmong, selectedIn } from './selected-in.ts'
import { summarize } from './summarize.ts'
import { trace } from './trace.ts'

/** All questions. A new one is a file and a line here; page, worker and batches answer it from then on. */
export const questions = {
  cells,
  cellsHolding,
  checkKey,
  checkRows,
  description,
  explain,
  exportBatch,
  exportEnd,
  exportSheet,
  exportText,
  facets,
  findMatch,
  findRows,
  firstFrom,
  groupAt,
  keysOf,
  lengthMap,
  levelGroups,
  linesOf,
  longestTexts,
  nextSelected,
  passingAmong,
  passingRows,
  pending,
  profile,
  proposeKeys,
  records,
  rowCells,
  rowsBetween,
  rowsOfGroup,
  savedCells,
  selectedIn,
  summarize,
  trace,
}

type Questions = typeof questions
export type QuestionName = keyof Questions
export type ArgsOf<Name extends QuestionName> =
  Questions[Name] extends Question<infer Args, unknown> ? Args : never
export type AnswerOf<Name extends QuestionName> =
  Questions[Name] extends Question<never, infer Answer> ? Answer : never

const byName: QuestionsByName = questions
type QuestionsByName = { readonly [Name in QuestionName]: Question<ArgsOf<Name>, AnswerOf<Name>> }

/** The question of a name. */
export const questionOf = <Name extends QuestionName>(name: Name): QuestionsByName[Name] => byName[name]
