import type { Field, Value } from '../table/column.ts'
import { countPacked } from '../table/packed-rows.ts'
import { rowOfId, type PackedRows, type RowId, asRowId } from '../table/row-id.ts'
import { shower, type Show } from '../table/shown-text.ts'
import { type Line, type LineIndex, asLine } from '../flow/line.ts'
import type { FlowReport, FlowRequest, Formats, StageName } from '../flow/request.ts'
import type { CellBlock } from '../question/cells.ts'
import type { AnswerOf, ArgsOf, QuestionName } from '../question/index.ts'
import type { ViewId } from '../question/question.ts'
import { rowsIn } from '../table/row-id.ts'
import { CancelledError } from '../work/work.ts'
import { onlyLines, type Refusal } from '../question/abilities.ts'
import { refusalText } from '../words/refusal-text.ts'
import type { Binding } from '../flow/view-request.ts'
import type { LineReader, RowSource, View } from './row-source.ts'
import type { SourceDescription } from '../question/source-description.ts'
import { streamRows } from './stream-rows.ts'
import { TileReader } from './tile-reader.ts'
import type { SourceRemark } from '../question/source-remark.ts'
import { remarkText } from '../words/remark-text.ts'

export interface ComputedOptions {
  readonly rows: number
  readonly fields: readonly Field[]
  /** The value of a cell, from the row's number and the field's place. Asked often: keep it cheap. */
  readonly cell: (row: number, field: number) => Value
  /** Milliseconds that every answer takes; 0: cells are read at once. */
  readonly latencyMs?: number
}

const STAGES: readonly StageName[] = ['source', 'columns', 'search', 'conditions', 'order', 'groups', 'rows']

const WHY: Refusal = { code: 'rows-computed' }
const REMARKS: readonly SourceRemark[] = [{ code: 'computed' }]

/** The questions that rows answer which are worked out from their number. */
type Answers = { [Name in QuestionName]?: (args: ArgsOf<Name>) => AnswerOf<Name> }

/**
 * Rows that are computed from their number: any length, no memory, and slow on demand. They can neither be ordered nor
 * narrowed nor grouped, and say so.
 */
export function computedSource(options: ComputedOptions): RowSource {
  const { rows, fields, cell, latencyMs = 0 } = options
  const places = new Map(fields.map((field, place) => [field.key, place]))
  const open = new Set<TileReader>()
  const table = { rows }
  let lastView = 0

  const lineOf = (index: number): Line => ({ kind: 'row', level: 0, row: asRowId(index) })
  const valueOf = (id: RowId, column: string): Value => {
    const place = places.get(column)
    const row = rowOfId(table, id)
    return place === undefined || row < 0 ? null : cell(row, place)
  }
  const textIn = (shows: readonly Show[], id: RowId, column: string): string => {
    const place = places.get(column)
    return place === undefined ? '' : shows[place](valueOf(id, column))
  }
  const blockOf = (
    shows: readonly Show[],
    from: number,
    to: number,
    columns: readonly string[],
  ): CellBlock => {
    const ids = Array.from({ length: Math.max(0, Math.min(to, rows) - from) }, (_, i) => asRowId(from + i))
    return {
      lines: ids.map(id => lineOf(Number(id))),
      groups: [],
      texts: ids.flatMap(id => columns.map(column => textIn(shows, id, column))),
      values: ids.flatMap(id => columns.map(column => valueOf(id, column))),
    }
  }
  const linesNow = (shows: readonly Show[]): LineReader => ({
    lineCount: rows,
    line: lineOf,
    groupsAt: () => [],
    text: (_index, row, column) => textIn(shows, row, column),
    value: (_index, row, column) => valueOf(row, column),
    want: () => {},
    onArrive: () => () => {},
  })
  const showsOf = (formats: Formats = {}): Show[] => fields.map(field => shower(field, formats[field.key]))
  const plain = showsOf()

  const answers: Answers = {
    cells: ({ from, to, columns }) => blockOf(plain, from, to, columns),
    description: () => describe(),
    explain: () => ({ conditions: {}, words: [] }),
    findMatch: () => null,
    findRows: ({ keyFields, keys }) =>
      keys.map(key =>
        keyFields.length === 0 && typeof key === 'number' && rowOfId(table, asRowId(key)) >= 0
          ? asRowId(key)
          : null,
      ),
    keysOf: ({ rows: wanted }) => [...rowsIn(wanted)],
    linesOf: ({ rows: wanted }) => wanted.map(id => asLine(rowOfId(table, id))),
    nextSelected: ({ selected, after }) => nextOf(selected, after, rows),
    passingAmong: ({ selected }) => selected,
    passingRows: () => ({ kind: 'run', from: 0, to: rows }),
    records: ({ rows: wanted }) =>
      wanted.map(id => Object.fromEntries(fields.map(({ key }) => [key, valueOf(id, key)]))),
    rowsBetween: ({ from, to }) => ({ kind: 'run', from, to: Math.min(to, rows) }),
    selectedIn: ({ selected }) => ({ passing: { rows, selected: countPacked(selected) }, groups: [] }),
    trace: ({ row }) => ({
      row,
      search: null,
      conditions: [],
      among: null,
      passes: true,
      order: [],
      groups: [],
      heldBackAt: null,
      line: rowOfId(table, row),
    }),
  }

  const describe = (): SourceDescription => ({
    fields,
    total: { kind: 'exact', rows },
    can: onlyLines(WHY, Object.keys(answers)),
    where: 'this page, cells computed on demand',
    bytes: 0,
    columnBytes: {},
    ms: latencyMs,
    notes: REMARKS.map(remarkText),
    remarks: REMARKS,
    reading: null,
    samples: fields.map((_, place) =>
      Array.from({ length: Math.min(rows, 50) }, (_, row) => plain[place](cell(row, place))),
    ),
  })

  const source: RowSource = {
    async open({ signal } = {}): Promise<SourceDescription> {
      await delay(latencyMs, signal)
      return describe()
    },
    async view(request, { signal } = {}): Promise<View> {
      await delay(latencyMs, signal)
      const shows = showsOf(request.binding?.formats)
      const tiles =
        latencyMs > 0
          ? new TileReader(rows, async (from, to, columns) => {
              await delay(latencyMs)
              return blockOf(shows, from, to, columns)
            })
          : null
      if (tiles) open.add(tiles)
      const exact = { kind: 'exact' as const, rows }
      return {
        id: ++lastView as ViewId,
        fields,
        problems: problemsOf(request.binding),
        counts: { total: exact, passing: exact, lines: exact },
        report: reportOf(request, rows, fields.length),
        lines: tiles ?? linesNow(shows),
        close() {
          tiles?.close()
          if (tiles) open.delete(tiles)
        },
      }
    },
    async ask(question, args, { signal } = {}) {
      const answer = answers[question]
      if (!answer) throw new RangeError(refusalText(WHY))
      await delay(question === 'records' ? latencyMs : 0, signal)
      return answer(args)
    },
    stream: (request, options) => streamRows(source, request, options),
    commit: () => Promise.reject(new RangeError('Computed rows cannot be changed.')),
    onChange: () => () => {},
    close() {
      for (const tiles of open) tiles.close()
      open.clear()
    },
  }
  return source
}

/** The first of some rows behind a line, or of all of them; every row stands on its own line. */
function nextOf(
  { chunks, names }: PackedRows,
  after: LineIndex,
  rows: number,
): { readonly row: RowId; readonly line: LineIndex } | null {
  let first: RowId | null = null
  for (const row of rowsIn({ kind: 'set', chunks, names })) {
    if (rowOfId({ rows }, row) < 0) continue
    first ??= row
    if (Number(row) > after) return { row, line: asLine(Number(row)) }
  }
  return first === null ? null : { row: first, line: asLine(Number(first)) }
}

const problemsOf = (binding?: Binding): View['problems'] =>
  (binding?.computed ?? []).map(({ key }) => ({
    key,
    problem: { code: 'source-cannot-compute', at: { from: 0, to: 0 } },
  }))

function reportOf({ searchColumns }: FlowRequest, rows: number, fields: number): FlowReport {
  const stages = STAGES.map(stage => ({
    stage,
    rowsIn: stage === 'columns' ? fields : rows,
    rowsOut: stage === 'columns' ? searchColumns.length : rows,
    ms: 0,
    fresh: false,
  }))
  const nothing = { heldBack: {}, searchHeldBack: null, conditionMs: {}, conditionProblems: {} }
  return { stages, passing: rows, total: rows, groups: [], groupsHeldBack: [], ...nothing }
}

function delay(ms: number, signal?: AbortSignal): Promise<void> {
  if (signal?.aborted) return Promise.reject(new CancelledError())
  if (ms <= 0) return Promise.resolve()
  return new Promise((resolve, reject) => {
    const timer = setTimeout(resolve, ms)
    signal?.addEventListener('abort', () => {
      clearTimeout(timer)
      reject(new CancelledError())
    })
  })
}
