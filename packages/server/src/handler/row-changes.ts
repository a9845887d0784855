import type { Answered, Run, SqlEngine } from '../engine/engine.ts'
import { QuestionError } from '../language/problem.ts'
import { readBody, type GivenRow } from '../language/read-body.ts'
import type { Literal } from '../language/expression.ts'
import {
  deleteStatement,
  insertStatement,
  rowStatement,
  updateStatement,
  type RowAsked,
} from '../statement/change-statements.ts'
import { isChangeable } from '../tables/changes.ts'
import { propertyOf, type ServedTable } from '../tables/served-table.ts'
import type { OpenTable } from './access.ts'
import { isTagged, rowTag } from './row-tag.ts'

/** A row with the tag that tells it from what it was before. */
export interface TaggedRow {
  readonly values: readonly Answered[]
  readonly tag: string
}

/** What a change of a row is bound to. */
export interface Precondition {
  /** Only a row with one of these tags; null: whatever it has. */
  readonly ifMatch: string | null
}

/** Reads and changes single rows, each change with what it is bound to as one transaction. */
export class RowChanges {
  private readonly engine: SqlEngine

  constructor(engine: SqlEngine) {
    this.engine = engine
  }

  async read(open: OpenTable, key: readonly Literal[], signal: AbortSignal): Promise<TaggedRow> {
    const rows = await this.engine.rows(rowStatement({ ...open, key }, this.engine.dialect, false), signal)
    return tagged(rows)
  }

  /** Changes some properties; answers with the row as it is then. */
  async update(
    open: OpenTable,
    key: readonly Literal[],
    body: string,
    bound: Precondition,
    signal: AbortSignal,
  ): Promise<TaggedRow> {
    const { table, changes } = open
    const given = readBody(body, table)
    // Clients send what names the row along; it must be what the address says, and stays.
    const row: GivenRow = new Map([...given].filter(([name]) => !table.key.includes(name)))
    const fixed = [...row.keys()].find(name => !isChangeable(table, changes, name))
    if (fixed !== undefined) throw new QuestionError({ code: 'fixed', property: fixed })
    const asked = { ...open, key }
    return await this.engine.transaction(async run => {
      const before = await this.held(run, asked, bound)
      if (row.size === 0) return before
      await run(updateStatement(asked, row, this.engine.dialect))
      return await this.stillSeen(run, asked)
    }, signal)
  }

  async insert(open: OpenTable, body: string, signal: AbortSignal): Promise<TaggedRow> {
    const { table } = open
    const row = readBody(body, table)
    const told = [...row.keys()].find(name => propertyOf(table, name)?.told)
    if (told !== undefined) throw new QuestionError({ code: 'fixed', property: told })
    const { dialect } = this.engine
    return await this.engine.transaction(async run => {
      const named = table.key.flatMap(name => literalOf(table, name, row) ?? [])
      if (named.length === table.key.length) {
        // Also a row that may not be seen has its key.
        const taken = await run(rowStatement({ ...open, rule: null, key: named }, dialect, false))
        if (taken.length > 0) throw new QuestionError({ code: 'row-is-there' })
      }
      const [made] = await run(insertStatement(table, row, dialect))
      const unnamed = table.key.find((_, nth) => made[nth] === null)
      if (unnamed !== undefined)
        throw new QuestionError({ code: 'wrong-value', property: unnamed, what: 'a value' })
      const key = table.key.map((name, nth) => literalFor(table, name, made[nth]))
      return await this.stillSeen(run, { ...open, key })
    }, signal)
  }

  async remove(
    open: OpenTable,
    key: readonly Literal[],
    bound: Precondition,
    signal: AbortSignal,
  ): Promise<void> {
    const asked = { ...open, key }
    await this.engine.transaction(async run => {
      await this.held(run, asked, bound)
      await run(deleteStatement(asked, this.engine.dialect))
    }, signal)
  }

  /** The row before it is changed; nobody else changes it meanwhile. */
  private async held(run: Run, asked: RowAsked, { ifMatch }: Precondition): Promise<TaggedRow> {
    const row = tagged(await run(rowStatement(asked, this.engine.dialect, true)))
    if (ifMatch !== null && !isTagged(ifMatch, row.tag))
      throw new QuestionError({ code: 'changed-meanwhile' })
    return row
  }

  /** What whoever changes it could not see afterwards he may not make of it. */
  private async stillSeen(run: Run, asked: RowAsked): Promise<TaggedRow> {
    const [row] = await run(rowStatement(asked, this.engine.dialect, false))
    if (!row) throw new QuestionError({ code: 'not-allowed' })
    return tagged([row])
  }
}

function tagged([values]: readonly (readonly Answered[])[]): TaggedRow {
  if (!values) throw new QuestionError({ code: 'no-such-row' })
  return { values, tag: rowTag(values) }
}

function literalOf(table: ServedTable, name: string, row: GivenRow): Literal | null {
  const given = row.get(name)
  return typeof given === 'string' ? literalFor(table, name, given) : null
}

/** A value that the engine has answered with, or is given, as an address would name it. */
const literalFor = (table: ServedTable, name: string, value: Answered): Literal => ({
  kind: 'literal',
  type: propertyOf(table, name)?.type ?? 'text',
  text: String(value),
})
