export type * from '@vast-meadow/engine'
export { mountMeadow } from './mount.ts'
export { followOptions } from './follow-options.ts'
export type { MeadowHandle } from './grid.ts'
export type {
  ArrangementStorage,
  ChangeStorage,
  Allow,
  KeptArrangements,
  MeadowOptions,
  NamedArrangement,
  Parts,
} from './kernel/options.ts'
export { localArrangements } from './storage/local-arrangements.ts'
export { indexedArrangements } from './storage/indexed-arrangements.ts'
export { localChanges } from './storage/local-changes.ts'
export {
  EVENT_NAMES,
  type DeleteAct,
  type MeadowEvents,
  type Measures,
  type OpenAct,
  type OpenChange,
  type SaveOutcome,
  type SelectionChange,
} from './kernel/events.ts'
export { ArrangementError, DefinitionError, type Problem } from './kernel/problem.ts'
export type {
  ActionCall,
  ActionDone,
  BatchAction,
  BatchCall,
  CellAction,
  CellEditorPart,
  CellPainter,
  CheckCall,
  ChoiceCall,
  DetailPainter,
  EditorCall,
  HostMenuEntry,
  MenuPlace,
  OwnCheck,
  OwnChoices,
  OwnEditor,
  PaintedCell,
  PaintedDetail,
} from './painter.ts'
export { defaultTexts, type Texts } from './kernel/texts.ts'
export type { EditingTexts } from './kernel/editing-texts.ts'
export type { RecordOf } from './kernel/record-of.ts'
export type { ExportOptions, ExportProgress } from './features/exports/export-options.ts'
export type { PrintOptions } from './features/printing/printing.ts'
export type { SelectedRows } from './kernel/selected-rows.ts'
export { addLanguage } from './languages/languages.ts'
