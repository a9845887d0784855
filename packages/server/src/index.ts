export {
  serveTables,
  type Handler,
  type Preparing,
  type ServeLimits,
  type ServeOptions,
  type TableGiven,
} from './handler/serve-tables.ts'
export type { Changes } from './tables/changes.ts'
export type { Access, TableAccess } from './handler/access.ts'
export type { Answered, Described, Run, SqlEngine } from './engine/engine.ts'
export type { Dialect, Differences, TimeKind } from './dialect/dialect.ts'
export type { Property, ServedTable } from './tables/served-table.ts'
export type { RowsStatement, Statement } from './statement/statement.ts'
