import type { Field, Value } from '../table/column.ts'
import { shower } from '../table/shown-text.ts'
import type { FlowRequest, StageName } from '../flow/request.ts'
import type { Rows } from '../selection/row-set.ts'
import { CancelledError } from '../work/work.ts'
import type { Arranged, Bound, LineReader, RowRecord, RowSource, SourceDescription } from './row-source.ts'
import { TileReader, type CellBlock } from './tile-reader.ts'
import type { Line } from '../flow/view.ts'

export interface ComputedOptions {
  readonly rows: number
  readonly fields: readonly Field[]
  /** The value of a cell, from the row's number and the field's place. Asked often: keep it cheap. */
  readonly cell: (row: number, field: number) => Value
  /** Milliseconds that every answer takes; 0: cells are read at once. */
  readonly latencyMs?: number
}

const STAGES: readonly StageName[] = ['source', 'columns', 'search', 'conditions', 'order', 'groups', 'rows']

/**
 * Rows that are computed from their number: any length, no memory, and slow on demand. It can neither order nor
 * narrow nor group, and says so.
 */
export function computedSource(options: ComputedOptions): RowSource {
  const { rows, fields, cell, latencyMs = 0 } = options
  const places = new Map(fields.map((field, place) => [field.key, place]))
  let shows = fields.map(field => shower(field))
  let current: { close?: () => void } = {}

  const valueOf = (row: number, column: string): Value => {
    const place = places.get(column)
    return place === undefined ? null : cell(row, place)
  }
  const textOf = (row: number, column: string): string => {
    const place = places.get(column)
    return place === undefined ? '' : shows[place](cell(row, place))
  }
  const lineOf = (index: number): Line => ({ kind: 'row', row: index })

  const blockOf = (from: number, to: number, columns: readonly string[]): CellBlock => {
    const numbers = Array.from({ length: to - from }, (_, i) => from + i)
    return {
      lines: numbers.map(lineOf),
      texts: numbers.flatMap(row => columns.map(column => textOf(row, column))),
      values: numbers.flatMap(row => columns.map(column => valueOf(row, column))),
    }
  }

  const linesNow: LineReader = {
    lineCount: rows,
    line: lineOf,
    text: (_index, row, column) => textOf(row, column),
    value: (_index, row, column) => valueOf(row, column),
    want: () => {},
    onArrive: () => () => {},
  }

  const describe = (): SourceDescription => ({
    fields,
    total: { kind: 'exact', rows },
    can: {
      order: false,
      conditions: false,
      search: false,
      group: false,
      facets: false,
      locate: true,
      commit: false,
    },
    where: 'this page, cells computed on demand',
    bytes: 0,
    columnBytes: {},
    ms: latencyMs,
    notes: ['Rows are computed from their number, so they cannot be ordered, narrowed, searched or grouped.'],
    reading: null,
    samples: fields.map((_, place) =>
      Array.from({ length: Math.min(rows, 50) }, (_, row) => shows[place](cell(row, place))),
    ),
  })

  return {
    async open({ signal } = {}): Promise<SourceDescription> {
      await delay(latencyMs, signal)
      return describe()
    },
    describe: () => Promise.resolve(describe()),
    bind({ formats, computed }): Promise<Bound> {
      shows = fields.map(field => shower(field, formats[field.key]))
      const problems = computed.map(({ key }) => ({
        key,
        problem: { code: 'source-cannot-compute' as const, at: { from: 0, to: 0 } },
      }))
      return Promise.resolve({ fields, problems })
    },
    async arrange(version: number, request: FlowRequest, { signal } = {}): Promise<Arranged> {
      await delay(latencyMs, signal)
      current.close?.()
      let lines = linesNow
      if (latencyMs > 0) {
        const tiles = new TileReader(rows, async (from, to, columns) => {
          await delay(latencyMs)
          return blockOf(from, to, columns)
        })
        current = tiles
        lines = tiles
      }
      const stages = STAGES.map(stage => {
        const columns = stage === 'columns'
        return {
          stage,
          rowsIn: columns ? fields.length : rows,
          rowsOut: columns ? request.searchColumns.length : rows,
          ms: 0,
          fresh: false,
        }
      })
      const nothing = { heldBack: {}, searchHeldBack: 0, conditionMs: {}, conditionProblems: {} }
      return { version, lines, report: { stages, passing: rows, total: rows, groups: 0, ...nothing } }
    },
    facets: () => Promise.reject(new RangeError('Computed rows cannot count values.')),
    explain: () => Promise.resolve({ conditions: {}, words: [] }),
    trace: (_request, row) =>
      Promise.resolve({ row, search: null, conditions: [], passes: true, order: [], group: null, line: row }),
    findMatch: () => Promise.resolve(null),
    profile: () => Promise.reject(new RangeError('Computed rows cannot count values.')),
    findRows(keyFields, keys) {
      const found = keys.map(key => {
        const row = keyFields.length === 0 ? Number(key) : -1
        return Number.isInteger(row) && row >= 0 && row < rows ? row : -1
      })
      return Promise.resolve(Int32Array.from(found))
    },
    keysOf: (_keyFields, wanted) =>
      Promise.resolve(
        wanted.kind === 'list'
          ? Array.from(wanted.rows)
          : Array.from({ length: wanted.to - wanted.from }, (_, i) => wanted.from + i),
      ),
    checkKey: keyFields =>
      Promise.resolve({ fields: keyFields, unique: false, missing: 0, doubled: 0, examples: [] }),
    proposeKeys: () => Promise.resolve([]),
    commit: () => Promise.reject(new RangeError('Computed rows cannot be changed.')),
    fold: () => Promise.resolve(null),
    lineOfRow: row => Promise.resolve(row),
    passingRows: (): Promise<Rows> => Promise.resolve({ kind: 'run', from: 0, to: rows }),
    rowsBetween: (from, to): Promise<Rows> => Promise.resolve({ kind: 'run', from, to }),
    async records(wanted): Promise<RowRecord[]> {
      await delay(latencyMs)
      return wanted.map(row =>
        Object.fromEntries(fields.map((field, place) => [field.key, cell(row, place)])),
      )
    },
    onChange: () => () => {},
    close: () => current.close?.(),
  }
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
