// What draws the first of a list of rows before there is an engine: apart from `client`, whose pages load it when they read
// rows.
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
export { arrangementFor } from './definition/arrangement.ts'
export { columnsBetween, runWidth } from './layout/column-layout.ts'
export { shower } from './table/shown-text.ts'
