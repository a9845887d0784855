import type { MeadowHandle } from '@vast-meadow/grid'
import type { RowId } from '@vast-meadow/engine'

/** A change as the stand-in tells it: which row, which column, what value, each a share from 0 to 1. */
type Change = readonly [number, number, number]

interface Column {
  readonly key: string
  readonly low: number
  readonly high: number
  readonly decimals: number
}

/**
 * Plays a service that tells of changes: rows of the grid get other numbers, so many a second. What comes while a change
 * is being made waits for the next; nothing is left out. Answers how to end it.
 */
export async function followStream(
  handle: MeadowHandle,
  rate: number,
  failed: (error: unknown) => void,
): Promise<() => void> {
  const columns = await changingColumns(handle)
  const keyFields = handle.definition?.key ?? []
  const total = handle.description?.total.rows ?? 0
  if (columns.length === 0 || keyFields.length === 0 || total === 0) return () => {}
  let waiting: Change[] = []
  let busy = false

  async function work(): Promise<void> {
    if (busy) return
    busy = true
    try {
      while (waiting.length > 0) {
        const some = waiting
        waiting = []
        await change(some)
      }
    } catch (error) {
      failed(error)
    } finally {
      busy = false
    }
  }

  async function change(some: readonly Change[]): Promise<void> {
    const rows = some.map(([row]) => Math.floor(row * total) as RowId)
    const keys = (await handle.source?.ask('keysOf', { keyFields, rows: { kind: 'list', rows } })) ?? []
    const update = some.flatMap(([, which, share], nth) => {
      const key = keys[nth]
      const column = columns[Math.floor(which * columns.length)]
      if (key === undefined || key === null || !column) return []
      const parts = Array.isArray(key) ? key : [key]
      const value = Number((column.low + share * (column.high - column.low)).toFixed(column.decimals))
      return [
        { ...Object.fromEntries(keyFields.map((field, at) => [field, parts[at]])), [column.key]: value },
      ]
    })
    if (update.length > 0) await handle.commit({ update })
  }

  const events = new EventSource(`/api/stand-in/stream?rate=${rate}`)
  events.onmessage = ({ data }: MessageEvent<string>) => {
    waiting.push(...(JSON.parse(data) as Change[]))
    void work()
  }
  return () => events.close()
}

/** Columns of numbers that are the rows' own, and between what their values lie. */
async function changingColumns(handle: MeadowHandle): Promise<Column[]> {
  const { definition, description, source } = handle
  const key = new Set(definition?.key)
  const fields = (description?.fields ?? []).filter(
    field =>
      (field.type === 'integer' || field.type === 'number') &&
      !field.computed &&
      !field.wide &&
      !key.has(field.key),
  )
  const told = await Promise.all(
    fields.map(async (field): Promise<Column[]> => {
      const { low = null, high = null } =
        (await source?.ask('profile', { column: field.key, limit: 0 })) ?? {}
      return low === null || high === null
        ? []
        : [{ key: field.key, low, high, decimals: field.decimals ?? 0 }]
    }),
  )
  return told.flat()
}
