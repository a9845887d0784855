import type { Table } from '../table/column.ts'
import { privateMemory, type Allocate } from '../table/allocate.ts'
import { CancelledError } from '../work/work.ts'
import type { ReadHelper } from './csv/share-task.ts'
import type { ReadProblem, ReadReport } from './read-report.ts'

/** How a reading is watched, and where its table is to lie. */
export interface ReadCall {
  readonly cancelled?: () => boolean
  /** Bytes read so far; what is read a second time counts in `of` too. */
  readonly onBytes?: (done: number, of: number) => void
  readonly allocate?: Allocate
  /** Bytes that a table may take; default: what the machine says, see `memoryLimit`. */
  readonly memoryBytes?: number
  /** Hears of the first rows of a large text file, as they are by themselves, while the others are read. */
  readonly onFirst?: (first: { readonly table: Table; readonly report: ReadReport }) => void
  /** Further threads that read a part, once they are there; they see the memory that this one allocates. */
  readonly helpers?: () => Promise<readonly ReadHelper[]>
}

/** Ends a reading with a problem that is told, not thrown further. */
export class ReadError extends Error {
  override readonly name = 'ReadError'
  readonly problem: ReadProblem
  constructor(problem: ReadProblem) {
    super(problem.code)
    this.problem = problem
  }
}

export const allocateOf = (call: ReadCall): Allocate => call.allocate ?? privateMemory

export function stopIfCancelled(call: ReadCall): void {
  if (call.cancelled?.()) throw new CancelledError()
}

const GIGABYTE = 2 ** 30
/** A table beyond this leaves no room for its indexes in a browser's tab. */
const MOST_BYTES = 3 * GIGABYTE

/** Bytes that a table may take here: half of what the machine says it has, at most three gigabytes. */
export function memoryLimit(): number {
  const { deviceMemory } = (globalThis.navigator ?? {}) as { deviceMemory?: number }
  return Math.min(MOST_BYTES, (deviceMemory ?? 8) * GIGABYTE * 0.5)
}

/** A table may take so many times what was read of its file, and so much besides. */
const MOST_TIMES = 64
const FREE_BYTES = 128 << 20
const BYTES_A_VALUE = 8

/** Bytes that a packed file of columns may unpack to; its columns are packed already, and hardly become smaller again. */
export const mostUnpacked = (packedBytes: number): number => FREE_BYTES + MOST_TIMES * packedBytes

/** Refuses a table of so many values that it is out of all proportion to what was read: most of them would be missing. */
export function refuseUneven(values: number, readBytes: number): void {
  const needBytes = values * BYTES_A_VALUE
  if (needBytes > FREE_BYTES + MOST_TIMES * readBytes)
    throw new ReadError({ code: 'too-uneven', needBytes, readBytes })
}

/** Tables are judged by their beginning once so much of the file is read. */
const JUDGE_FROM_BYTES = 8 << 20

/**
 * Refuses a file whose table, going by what is read of it so far, would not fit. `tableBytes`: what the table takes
 * by now.
 */
export function refuseTooLarge(tableBytes: number, taken: number, size: number, call: ReadCall): void {
  if (taken < JUDGE_FROM_BYTES && tableBytes < JUDGE_FROM_BYTES) return
  const allowedBytes = call.memoryBytes ?? memoryLimit()
  const needBytes = Math.ceil(tableBytes * Math.max(1, size / Math.max(1, taken)))
  if (needBytes > allowedBytes) throw new ReadError({ code: 'too-large', needBytes, allowedBytes })
}
