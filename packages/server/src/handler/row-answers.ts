import type { SqlEngine } from '../engine/engine.ts'
import type { Literal } from '../language/expression.ts'
import { QuestionError } from '../language/problem.ts'
import { offersUpdates } from '../tables/changes.ts'
import type { OpenTable } from './access.ts'
import { bare, json, onlyMethod, recordOf, textOf } from './answers.ts'
import { RowChanges, type TaggedRow } from './row-changes.ts'

/** Answers requests about single rows: tells, changes, makes and takes them out. */
export class RowAnswers {
  private readonly rows: RowChanges
  private readonly path: string
  private readonly changed: (table: string) => void

  /** `path`: where the handler is mounted; `changed`: a row of a table was. */
  constructor(engine: SqlEngine, path: string, changed: (table: string) => void) {
    this.rows = new RowChanges(engine)
    this.path = path
    this.changed = changed
  }

  async answer(
    request: Request,
    open: OpenTable,
    key: readonly Literal[],
    signal: AbortSignal,
  ): Promise<Response> {
    const bound = { ifMatch: request.headers.get('if-match') }
    switch (request.method) {
      case 'PATCH': {
        offered(request, offersUpdates(open.changes))
        const row = await this.rows.update(open, key, await bodyOf(request), bound, signal)
        this.changed(open.table.name)
        return wantsRow(request) ? rowTold(open, row, 200, APPLIED) : bare(204, { etag: row.tag })
      }
      case 'DELETE':
        offered(request, open.changes.remove)
        await this.rows.remove(open, key, bound, signal)
        this.changed(open.table.name)
        return bare(204)
      default:
        onlyMethod(request, 'GET')
        return rowTold(open, await this.rows.read(open, key, signal), 200)
    }
  }

  async insert(request: Request, open: OpenTable, signal: AbortSignal): Promise<Response> {
    offered(request, open.changes.insert)
    const row = await this.rows.insert(open, await bodyOf(request), signal)
    this.changed(open.table.name)
    return rowTold(open, row, 201, { location: addressOf(this.path, open, row) })
  }
}

function offered({ method }: Request, is: boolean | undefined): void {
  if (is !== true) throw new QuestionError({ code: 'method-not-allowed', method })
}

/** Pages of other hosts cannot send this type without being asked whether they may. */
async function bodyOf(request: Request): Promise<string> {
  if (!/^application\/json\b/i.test(request.headers.get('content-type') ?? ''))
    throw new QuestionError({ code: 'not-json' })
  return await textOf(request)
}

const APPLIED = { 'preference-applied': 'return=representation' }
const wantsRow = ({ headers }: Request): boolean =>
  /\breturn=representation\b/.test(headers.get('prefer') ?? '')

const rowTold = (
  { table }: OpenTable,
  { values, tag }: TaggedRow,
  status: number,
  headers: Record<string, string> = {},
): Response =>
  json(
    {
      '@context': `$metadata#${table.name}/$entity`,
      '@etag': tag,
      ...recordOf(
        table.properties.map(({ name }) => name),
        values,
      ),
    },
    { etag: tag, ...headers },
    status,
  )

/** Where a new row is found. */
function addressOf(path: string, { table }: OpenTable, { values }: TaggedRow): string {
  const parts = table.key.map(name => {
    const place = table.properties.findIndex(property => property.name === name)
    const value = String(values[place])
    const literal = table.properties[place].type === 'text' ? `'${value.replaceAll("'", "''")}'` : value
    return table.key.length === 1 ? literal : `${name}=${literal}`
  })
  return `${path}/${table.name}(${encodeURIComponent(parts.join(','))})`
}
