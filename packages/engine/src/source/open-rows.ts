import type { SourceDescription } from '../question/source-description.ts'
import type { SourceRemark } from '../question/source-remark.ts'
import { errorOf } from '../work/checked.ts'
import { CancelledError } from '../work/work.ts'
import type { EngineGiven, EngineHost } from './engine-host.ts'
import { SourceError, type SourceChange } from './row-source.ts'
import { loadTable, type LoadCall, type Loaded, type RowsInput } from './rows-input.ts'

export interface OpenRows extends Pick<LoadCall, 'cancelled' | 'onProgress' | 'allocate' | 'helpers'> {
  /** Answer with the first rows, where they are there long before the others. */
  readonly early?: boolean
  /** What the engine is given besides. `whole`: no more rows come. */
  given(rows: number, whole: boolean): EngineGiven | Promise<EngineGiven>
  /** After an early answer: all rows are there, or cannot be had. */
  changed(change: SourceChange): void
}

/** Loads the rows of an input into an engine. Rejects as `loadTable` does. */
export function openRows(host: EngineHost, input: RowsInput, call: OpenRows): Promise<SourceDescription> {
  return new Promise((resolve, reject) => {
    let first: Loaded | null = null
    let isWhole = false
    const takeFirst = async (loaded: Loaded): Promise<void> => {
      const given = await call.given(loaded.table.rows, false)
      if (isWhole) return
      first = loaded
      resolve(host.take({ ...loaded, coming: true }, given).describe())
    }
    const load = async (): Promise<void> => {
      const onFirst = call.early ? (loaded: Loaded): void => void takeFirst(loaded) : undefined
      const loaded = await loadTable(input, { ...call, onFirst })
      const given = await call.given(loaded.table.rows, true)
      isWhole = true
      if (!first) {
        resolve(host.take(loaded, given).describe())
        return
      }
      await host.replace({ ...loaded, remarks: [...otherTypes(first, loaded), ...loaded.remarks] }, given)
      call.changed({ problem: null })
    }
    load().catch((error: unknown) => {
      if (!first) {
        isWhole = true
        reject(errorOf(error))
        return
      }
      host.giveUp()
      if (error instanceof CancelledError) call.changed({ problem: null, lost: null })
      else if (error instanceof SourceError) call.changed({ problem: error.message, lost: error.problem })
      else call.changed({ problem: null, lost: { code: 'failed', reason: errorOf(error).message } })
    })
  })
}

/** Fields that are of another type than their first rows showed. */
const otherTypes = ({ table: first }: Loaded, { table: whole }: Loaded): SourceRemark[] =>
  whole.fields.flatMap(({ key, type }): SourceRemark[] => {
    const before = first.fields.find(field => field.key === key)
    if (!before || before.type === type) return []
    return [{ code: 'other-type', field: key, first: before.type, type, rows: first.rows }]
  })
