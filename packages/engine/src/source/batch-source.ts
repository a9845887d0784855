import type { RowObject } from '../read/rows/read-rows.ts'
import type { RowSource, SourceChange, SourceDescription } from './row-source.ts'

/** Listeners hear of new rows this often at most. */
const TELL_EVERY_MS = 200

/**
 * A source whose rows come in batches: what is there can be arranged while more is on its way. `rest`: the batches
 * after those that `inner` was opened with; they are asked for one after another once the source is open.
 */
export function batchSource(inner: RowSource, rest: AsyncIterator<readonly RowObject[]>): RowSource {
  const listeners = new Set<(change: SourceChange) => void>()
  let coming = true
  let closed = false
  let problem: string | null = null
  let told = 0

  const tell = (): void => {
    told = performance.now()
    for (const listener of [...listeners]) listener({ problem })
  }

  const pump = async (): Promise<void> => {
    try {
      while (!closed) {
        const { done, value } = await rest.next()
        if (done || closed) break
        if (value.length > 0) await inner.commit({ append: value }, [])
        if (performance.now() - told > TELL_EVERY_MS) tell()
      }
    } catch (error) {
      problem = `No further rows could be had: ${error instanceof Error ? error.message : String(error)}`
    }
    coming = false
    if (!closed) tell()
  }

  const asKnown = (description: SourceDescription): SourceDescription => {
    const { total, notes } = description
    return {
      ...description,
      total: coming || problem ? { kind: 'at-least', rows: total.rows } : total,
      notes: problem ? [problem, ...notes] : notes,
    }
  }

  return {
    async open(options) {
      const description = await inner.open(options)
      void pump()
      return asKnown(description)
    },
    describe: async () => asKnown(await inner.describe()),
    bind: binding => inner.bind(binding),
    arrange: (version, request, options) => inner.arrange(version, request, options),
    facets: (request, column, asked, options) => inner.facets(request, column, asked, options),
    explain: (request, options) => inner.explain(request, options),
    trace: (request, row, options) => inner.trace(request, row, options),
    findMatch: (search, columns, from, step) => inner.findMatch(search, columns, from, step),
    profile: (column, limit, options) => inner.profile(column, limit, options),
    findRows: (keyFields, keys, options) => inner.findRows(keyFields, keys, options),
    keysOf: (keyFields, rows) => inner.keysOf(keyFields, rows),
    checkKey: (keyFields, options) => inner.checkKey(keyFields, options),
    proposeKeys: options => inner.proposeKeys(options),
    commit: (changes, keyFields) => inner.commit(changes, keyFields),
    fold: () => inner.fold(),
    lineOfRow: row => inner.lineOfRow(row),
    passingRows: () => inner.passingRows(),
    rowsBetween: (from, to) => inner.rowsBetween(from, to),
    records: rows => inner.records(rows),
    onChange(listener) {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    close() {
      closed = true
      listeners.clear()
      void rest.return?.()
      inner.close()
    },
  }
}
