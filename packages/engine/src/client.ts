// What a page needs of the engine whose rows a worker holds: the grid imports values from here alone, so that bundlers
// leave out, or load later, all that works on rows.
export { spanOf } from './condition/amount.ts'
export { kindsFor, usualKind } from './condition/condition.ts'
export { printPhrase, readPhrase, writtenAmount } from './condition/phrase.ts'
export { ArrangementStore } from './definition/arrangement-store.ts'
export { nearestName } from './table/nearest-name.ts'
export { readArrangement } from './definition/read-arrangement.ts'
export { arrangementFor, orderAfterClick, shownColumns, withAbsentColumns } from './definition/arrangement.ts'
export {
  WHERE_KEY,
  actionKey,
  actionShownKey,
  bindingOf,
  editableKey,
  levelKey,
  orderKey,
  speaksOfCount,
  speaksOfSelection,
  styleKey,
  whenSelected,
} from './definition/binding.ts'
export { defineFrom } from './definition/define-from.ts'
export { askedLevel, requestOf, searchColumns } from './definition/request-of.ts'
export { readDefinition } from './definition/definition.ts'
export { PALETTE, TONES } from './definition/tones.ts'
export { diffRows, sameRows } from './edit/diff-rows.ts'
export { bucketsFor } from './group/bucket.ts'
export { usualBucket } from './group/usual-bucket.ts'
export { levelOf } from './group/level.ts'
export { kindOf, summariesFor, summaryField, summaryFits, usualSummary } from './summary/summary.ts'
export { summaryShower } from './summary/show-summary.ts'
export { summaryWords } from './words/summary-words.ts'
export { asLine, lineKey, NO_LINE } from './flow/line.ts'
export { PLAIN_BINDING } from './flow/view-request.ts'
export { columnRun, columnsBetween, mostColumns, runWidth } from './layout/column-layout.ts'
export { EvenHeights, MeasuredHeights } from './layout/line-heights.ts'
export { pageSpan } from './layout/pages.ts'
export { ScrollMap } from './layout/scroll-map.ts'
export { isAble } from './question/abilities.ts'
export { fold, searchWords } from './search/fold.ts'
export { matchRanges } from './search/match-ranges.ts'
export { RowSet } from './selection/row-set.ts'
export { TickedRows } from './selection/ticked-rows.ts'
export { plainWriter } from './table/plain-text.ts'
export { rowsIn } from './table/row-id.ts'
export { countRows } from './table/packed-rows.ts'
export { shower, tagsOf } from './table/shown-text.ts'
export { keepNewest } from './work/keep-newest.ts'
export { CancelledError, runSliced } from './work/work.ts'
export { openSource } from './worker/open-source.ts'
export { conditionSummary } from './words/condition-summary.ts'
export { conditionWords } from './words/condition-words.ts'
export { expressionProblemText } from './words/expression-problem-text.ts'
export { partProblemText } from './words/part-problem-text.ts'
export { phraseProblemText } from './words/phrase-problem-text.ts'
export { problemText } from './words/source-problem-text.ts'
export { DEFAULT_LOCALE } from './table/default-locale.ts'
export { SourceError } from './source/row-source.ts'
export { errorOf, isOneOf, isRecord, keysIn, sure } from './work/checked.ts'
export { headingSpans } from './layout/shared-headings.ts'
export { columnsMoved, headingParted } from './definition/heading-places.ts'
export { headingPaths } from './definition/headings.ts'
export { COLUMN_PARTS, columnMoved, partOf, placeBeside } from './definition/column-places.ts'
export { shownCellWidth } from './definition/column-width.ts'
export { fitToRoom } from './layout/fit-to-room.ts'
export { columnWidths } from './layout/column-widths.ts'
export { ArrangementHistory } from './definition/arrangement-history.ts'
export { arrangementFromLink, arrangementToLink } from './definition/arrangement-link.ts'
export { differences } from './definition/differences.ts'
export { mergeArrangement } from './definition/merge-arrangement.ts'
export { differenceText } from './words/difference-text.ts'
export { leftOutText, linkProblemText } from './words/left-out-text.ts'
export { evaluateAlone } from './expression/evaluate-later.ts'
export { EXPORT_FORMATS, isBatchFormat } from './export/formats.ts'
export { loadWorkbook } from './export/load-workbook.ts'
// What draws the first of a list of rows before there is an engine.
export { formatsOf } from './definition/formats.ts'
export { plainColumn } from './definition/plain-column.ts'
export {
  uncheckedColumn,
  uncheckedDefinition,
  undefinedDefinition,
  type UncheckedDefinition,
} from './definition/unchecked-definition.ts'
export { asRows, readRows } from './read/rows/read-rows.ts'
export { valueAt } from './table/column.ts'
export { finish } from './work/work.ts'
