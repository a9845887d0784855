export * from './work/work.ts'
export { sharedMemory } from './table/allocate.ts'
export {
  bytesOf,
  valueAt,
  type Column,
  type Field,
  type FieldType,
  type Table,
  type Value,
} from './table/column.ts'
export { shower, tagsOf, type Show } from './table/shown-text.ts'
export type { Format } from './table/format.ts'
export { DATE_STYLES, type DateStyle } from './table/format.ts'
export { NUMBER_STYLES, type NumberStyle } from './table/format.ts'
export { tableFromRows, type RowObject } from './read/rows/read-rows.ts'
export { readFile, type ReadResult } from './read/read-file.ts'
export * from './read/read-report.ts'
export { ENCODINGS, type Encoding } from './read/bytes/encoding.ts'
export type { ColumnReading, ColumnReadOptions, ColumnsReadOptions } from './read/types/column-reading.ts'
export { type DateOrder, type TextStyle, type Thousands } from './read/types/text-style.ts'
export type { Misfit, Misfits } from './read/types/survey-texts.ts'
export type { Decoder, Decoders } from './read/column-files/column-file.ts'
export type { ChangeProblem, ChangeSet, Committed } from './edit/change-set.ts'
export type { PendingCell, PendingRow } from './pending/pending-changes.ts'
export type { ChangeList, SaveAnswer } from './pending/change-list.ts'
export { changeListJsonSchema } from './pending/change-list-json-schema.ts'
export type { PendingCounts } from './pending/typed-changes.ts'
export type { CheckProblem } from './check/check-problem.ts'
export { EDITORS, type ColumnEdit, type Editing, type EditorKind } from './check/edit-schema.ts'
export { EditableTable } from './edit/editable-table.ts'
export { keyParts, type KeyValue } from './key/key-value.ts'
export { checkKey, proposeKeys, type KeyCheck } from './key/propose-keys.ts'
export {
  readExpression,
  type ComputedColumn,
  type ComputedProblem,
  type ExpressionResult,
} from './expression/expressions.ts'
export { FACTS } from './expression/check.ts'
export { fieldReference } from './expression/field-reference.ts'
export { functionHelp } from './expression/functions/index.ts'
export { type ExpressionProblem, type ValueType } from './expression/problem.ts'
export type { TextRange } from './expression/tree.ts'
export { fold, searchWords } from './search/fold.ts'
export { matchRanges, type MatchRange } from './search/match-ranges.ts'
export {
  conditionSchema,
  kindsFor,
  usualKind,
  type Condition,
  type ConditionKindName,
  type ConditionPart,
} from './condition/condition.ts'
export {
  printPhrase,
  readPhrase,
  writtenAmount,
  type PhraseOf,
  type PhraseProblem,
  type PhraseResult,
} from './condition/phrase.ts'
export { conditionKinds } from './condition/kinds/index.ts'
export { spanOf } from './condition/amount.ts'
export type { Clock } from './condition/clock.ts'
export type {
  Amount,
  CalendarUnit,
  ConditionKind,
  ConditionWords,
  PartProblem,
} from './condition/kinds/kind.ts'
export type { OwnCondition, OwnConditions } from './condition/kinds/kind.ts'
export type { EngineParts } from './source/engine.ts'
export { serveEngine } from './worker/serve.ts'
export type { Explanation, Hindrance } from './question/explain.ts'
export type { Facets, FacetsAsked, ValueCount } from './question/facets.ts'
export type { CellPlace } from './question/find-match.ts'
export type { Profile } from './question/profile.ts'
export type { RowRecord } from './question/records.ts'
export type { Trace, TracedCondition, TracedWord } from './question/trace.ts'
export type { AnswerOf, ArgsOf, QuestionName } from './question/index.ts'
export type { ViewId } from './question/question.ts'
export type { CellBlock } from './question/cells.ts'
export {
  ALL_ABILITIES,
  isAble,
  onlyLines,
  type Abilities,
  type Ability,
  type PerKind,
  type Refusal,
  type SaveAbilities,
} from './question/abilities.ts'
export { streamRows } from './source/stream-rows.ts'
export type { Brand } from './table/brand.ts'
export { rowsIn, type RowId, type Rows } from './table/row-id.ts'
export { Flow } from './flow/flow.ts'
export type * from './flow/request.ts'
export { lineCountOf } from './flow/view.ts'
export {
  lineKey,
  NO_LINE,
  type FootLine,
  type GroupKey,
  type GroupPath,
  type HeadLine,
  type LineIndex,
  type Line,
  type RowLine,
} from './flow/line.ts'
export { bucketsFor, DATE_PARTS, type Bucket, type BucketKind, type DatePart } from './group/bucket.ts'
export { usualBucket } from './group/usual-bucket.ts'
export { levelOf, type GroupMeasure, type GroupOrder, type Keep, type Level } from './group/level.ts'
export {
  kindOf,
  summariesFor,
  summaryField,
  SUMMARY_NAMES,
  summaryFits,
  usualSummary,
  type Summary,
  type SummaryKind,
  type SummaryName,
} from './summary/summary.ts'
export { summaryShower } from './summary/show-summary.ts'
export type { OwnSummaries, OwnSummary } from './summary/own-summary.ts'
export type { ColumnSummary, SummaryAsked } from './question/summarize.ts'
export type { LevelGroups, ListedGroup } from './question/level-groups.ts'
export { RowSet } from './selection/row-set.ts'
export { TickedRows, type Ticked } from './selection/ticked-rows.ts'
export { EvenHeights, MeasuredHeights, type LineHeights } from './layout/line-heights.ts'
export { pageSpan, type PageSpan } from './layout/pages.ts'
export { ScrollMap } from './layout/scroll-map.ts'
export { columnRun, columnsBetween, mostColumns, runWidth, type ColumnRun } from './layout/column-layout.ts'
export {
  DEFINITION_VERSION,
  definitionJsonSchema,
  definitionSchema,
  readDefinition,
  type ColumnDefinition,
  type Definition,
  type DefinitionInput,
  type DefinitionProblem,
  type DefinitionResult,
} from './definition/definition.ts'
export { columnFor, defineFrom } from './definition/define-from.ts'
export { titleOf } from './definition/plain-column.ts'
export type { ActionDefinition, BatchActionDefinition } from './definition/action-schema.ts'
export type { DetailDefinition } from './definition/detail-schema.ts'
export type { CellDefinition } from './definition/cell-schema.ts'
export type { Fit, Look, StyleRule } from './definition/look-schema.ts'
export {
  actionKey,
  actionShownKey,
  bindingOf,
  fieldsOfRules,
  levelKey,
  orderKey,
  styleKey,
  whenSelected,
  WHERE_KEY,
} from './definition/binding.ts'
export {
  contrast,
  PALETTE,
  PAPERS,
  TONES,
  type Palette,
  type Tone,
  type ToneColours,
} from './definition/tones.ts'
export {
  bindingFindings,
  type Finding,
  type FindingCode,
  type FindingsAsked,
  type Remedy,
  type Severity,
} from './definition/findings.ts'
export { defineFromSchema, type FromSchema, type FromSchemaResult } from './definition/from-schema.ts'
export { renameColumn } from './definition/rename-column.ts'
export { nearestName } from './table/nearest-name.ts'
export { arrangementSchema, type Arrangement } from './definition/arrangement-schema.ts'
export {
  readArrangement,
  type ArrangementInput,
  type ArrangementProblem,
  type ArrangementResult,
} from './definition/read-arrangement.ts'
export type { HeadingDefinition } from './definition/heading-schema.ts'
export { columnsUnder, headingPaths } from './definition/headings.ts'
export { columnsMoved } from './definition/heading-places.ts'
export type { HeadingSpan } from './layout/shared-headings.ts'
export type { RowCells } from './question/row-cells.ts'
export type { LengthMap } from './question/length-map.ts'
export type { PackedRows } from './table/row-id.ts'
export type { SelectedIn, SelectedOf } from './question/selected-in.ts'
export { mergeArrangement, type LeftOut, type MergedArrangement } from './definition/merge-arrangement.ts'
export {
  arrangementFromLink,
  arrangementToLink,
  type LinkProblem,
  type LinkResult,
} from './definition/arrangement-link.ts'
export { differences, type Difference, type DifferenceFacts } from './definition/differences.ts'
export { arrangementFor, orderAfterClick, shownColumns } from './definition/arrangement.ts'
export {
  ArrangementStore,
  type ArrangementChange,
  type ArrangementListener,
  type Transaction,
  type Why,
} from './definition/arrangement-store.ts'
export * from './source/row-source.ts'
export { PLAIN_BINDING, type Binding, type ViewRequest } from './flow/view-request.ts'
export type { Count, SourceDescription } from './question/source-description.ts'
export type { SourceRemark } from './question/source-remark.ts'
export type { RowsInput } from './source/rows-input.ts'
export { PageSource } from './source/page-source.ts'
export { computedSource, type ComputedOptions } from './source/computed-source.ts'
export { recipeSource } from './source/made-up/recipe-source.ts'
export { cellMakers } from './source/made-up/make-cells.ts'
export { makeTable } from './source/made-up/make-table.ts'
export { recipeSchema, type Recipe, type RecipeInput } from './source/made-up/recipe.ts'
export { WorkerSource, type EnginePort } from './worker/worker-source.ts'
export {
  openSource,
  packagedWorker,
  textWorker,
  warmWorker,
  type Placement,
  type SourceInput,
  type WorkerFactory,
} from './worker/open-source.ts'
export type { ListingOptions } from './listing/listing-options.ts'
export { diffRows, sameRows } from './edit/diff-rows.ts'
export {
  conditionsExpression,
  conditionsFrom,
  type SaidConditions,
  type TakenConditions,
} from './condition/as-expression.ts'
export type { SourceProblem } from './read/source-problem.ts'
export * from './words/index.ts'
export { DEFAULT_LOCALE } from './table/default-locale.ts'
export {
  columnMoved,
  partOf,
  placeBeside,
  type ColumnPart,
  type ColumnPlace,
} from './definition/column-places.ts'
export type { SelectionRules } from './definition/selection-schema.ts'
export type { TextRules } from './export/cell-writer.ts'
export { EXPORT_FORMATS, type BatchFormat, type ExportFormat, type TextFormat } from './export/formats.ts'
export type { BatchField, BatchType } from './export/batch-column.ts'
export type { PlacedBatch } from './export/batch-encoder.ts'
export type { WorkbookColumn } from './export/workbook.ts'
export type { SheetColumn } from './export/sheet-writer.ts'
export type { ExportBatchArgs, ExportedBatch } from './question/export-batch.ts'
export type { ExportArgs, ExportedColumn, ExportedGroups, ExportedRows } from './question/export-args.ts'
export type { PackedPart } from './export/packed-part.ts'
export type { ExportedSheet, ExportSheetArgs } from './question/export-sheet.ts'
export type { ExportedText, ExportTextArgs } from './question/export-text.ts'
export * from './scenes.ts'
