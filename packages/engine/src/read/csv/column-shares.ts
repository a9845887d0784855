import { privateMemory, sharedMemory, type Allocate } from '../../table/allocate.ts'
import { breathe, runSliced } from '../../work/work.ts'
import {
  ColumnShare,
  type ColumnWanted,
  type FieldBlock,
  type SettledColumn,
  type SharedColumn,
} from './column-share.ts'
import { shareOut } from '../../work/share-out.ts'
import { Records } from './scan.ts'
import { BLOCKS_DONE, KILOBYTES, STATE_WORDS, type ReadHelper } from './share-task.ts'

/** Blocks that are on their way at once, so that no thread waits for the slowest column of every single one. */
const ROOMS = 6
/** Milliseconds for which a thread sleeps at most until it looks whether its own work was cancelled. */
const NAP_MS = 2
/** A helper that goes through no block for so long is lost. */
const PATIENCE_MS = 30_000

/** Thrown where a helping thread cannot go on; what it did is lost. */
export class HelperLostError extends Error {
  override readonly name = 'HelperLostError'
}

/** Room for a block of text and its records. */
export class Room {
  readonly records: Records
  bytes: Uint8Array = new Uint8Array(0)
  private readonly allocate: Allocate

  constructor(allocate: Allocate) {
    this.allocate = allocate
    this.records = new Records(allocate)
  }

  /** Takes what was left of the block before, and the next ones. */
  fill(rest: Uint8Array, next: readonly Uint8Array[]): Uint8Array {
    const length = next.reduce((sum, { length }) => sum + length, rest.length)
    if (length > this.bytes.buffer.byteLength) this.bytes = new Uint8Array(this.allocate(length + length / 8))
    this.bytes = new Uint8Array(this.bytes.buffer, 0, length)
    this.bytes.set(rest)
    let at = rest.length
    for (const bytes of next) {
      this.bytes.set(bytes, at)
      at += bytes.length
    }
    this.records.reset()
    return this.bytes
  }
}

/**
 * The columns of a file, shared out among this thread and others that see its memory: this one finds the records, and
 * each thread reads its own columns of every block. Nothing is joined in the end, and what is read does not depend on how
 * many threads there are.
 */
export class ColumnShares {
  private readonly own = new ColumnShare()
  private readonly others: readonly OtherShare[]
  private readonly rooms: Room[] = []
  private readonly allocate: Allocate
  private readonly stopIfCancelled: () => void
  /** By column: who reads it; null: this thread. */
  private readonly owners: (OtherShare | null)[] = []
  private nextRoom = 0

  constructor(helpers: readonly ReadHelper[], stopIfCancelled: () => void) {
    this.others = helpers.map(helper => new OtherShare(helper))
    this.allocate = helpers.length > 0 ? sharedMemory : privateMemory
    this.stopIfCancelled = stopIfCancelled
  }

  /** Room for the next block, as soon as all threads are through with what was in it. */
  async room(): Promise<Room> {
    const most = this.others.length > 0 ? ROOMS : 1
    if (this.rooms.length < most) {
      const room = new Room(this.allocate)
      this.rooms.push(room)
      return room
    }
    const room = this.rooms[this.nextRoom++ % most]
    for (const other of this.others) await other.throughBut(most - 1, this.stopIfCancelled)
    return room
  }

  /** More columns are to be read, which a block has shown. */
  add(columns: readonly SharedColumn[], block: FieldBlock): void {
    if (columns.length === 0) return
    // Columns that come up later are few, and empty up to there.
    const isFirst = this.owners.length === 0
    const shares = isFirst
      ? shareOut(costsOf(block, columns.length), block.bytes.length * SCAN_COST, this.others.length)
      : []
    columns.forEach((column, i) => {
      const owner = this.others[(shares[i] ?? 0) - 1] ?? null
      this.owners.push(owner)
      if (!owner) this.own.add(column)
    })
    if (!isFirst) return
    for (const other of this.others) other.begin(columns.filter((_, i) => this.owners[i] === other))
  }

  take(block: FieldBlock): void {
    for (const other of this.others) other.take(block)
    this.own.take(block)
  }

  /** Bytes that the columns take so far. */
  get bytes(): number {
    return this.others.reduce((sum, other) => sum + other.bytes, this.own.bytes)
  }

  /** The file ends after so many rows. Returns whether it has to be read again, for columns that are text after all. */
  async end(rows: number): Promise<boolean> {
    const asked = this.others.map(other => other.end(rows))
    const again = this.own.end(rows)
    return (await Promise.all(asked)).some(Boolean) || again
  }

  /** What became of the columns, in their order. */
  async settle(
    wanted: readonly ColumnWanted[],
    allocate: Allocate,
    cancelled?: () => boolean,
  ): Promise<SettledColumn[]> {
    const columns: SettledColumn[] = []
    const ofOwner = (owner: OtherShare | null): ColumnWanted[] =>
      wanted.filter(({ place }) => this.owners[place] === owner)
    const asked = this.others.map(async other => {
      const theirs = ofOwner(other)
      const settled = await other.settle(theirs)
      theirs.forEach(({ place }, i) => (columns[place] = settled[i]))
    })
    const work = async (): Promise<void> => {
      for (const one of ofOwner(null)) {
        columns[one.place] = await runSliced(this.own.settle(one, allocate), { cancelled })
      }
    }
    await Promise.all([work(), ...asked])
    return columns
  }

  /** Whatever was under way, nobody waits for it any more. */
  drop(): void {
    for (const other of this.others) other.drop()
  }
}

/** Columns that another thread reads. */
class OtherShare {
  private readonly helper: ReadHelper
  private readonly state = new Int32Array(new SharedArrayBuffer(STATE_WORDS * 4))
  private handed = 0
  private takes = false

  constructor(helper: ReadHelper) {
    this.helper = helper
  }

  get bytes(): number {
    return Atomics.load(this.state, KILOBYTES) * 1024
  }

  begin(columns: readonly SharedColumn[]): void {
    this.takes = columns.length > 0
    this.helper.hand({ call: 'fields-begin', columns, state: this.state })
  }

  take(block: FieldBlock): void {
    if (!this.takes) return
    this.handed++
    this.helper.hand({ call: 'fields-take', block })
  }

  /** Waits until no more than so many blocks are before it. */
  async throughBut(blocks: number, stopIfCancelled: () => void): Promise<void> {
    let heard = performance.now()
    let last = -2
    for (;;) {
      const done = Atomics.load(this.state, BLOCKS_DONE)
      if (done >= this.handed - blocks) return
      if (done !== last) heard = performance.now()
      last = done
      if (done < 0 || !this.helper.alive || performance.now() - heard > PATIENCE_MS)
        throw new HelperLostError()
      Atomics.wait(this.state, BLOCKS_DONE, done, NAP_MS)
      await breathe()
      stopIfCancelled()
    }
  }

  async end(rows: number): Promise<boolean> {
    return (this.takes = await this.answered(this.helper.ask({ call: 'fields-end', rows })))
  }

  settle(wanted: readonly ColumnWanted[]): Promise<readonly SettledColumn[]> {
    return this.answered(this.helper.ask({ call: 'fields-settle', wanted }))
  }

  drop(): void {
    this.helper.hand({ call: 'fields-drop' })
  }

  private async answered<T>(asked: Promise<T>): Promise<T> {
    try {
      return await asked
    } catch {
      throw new HelperLostError()
    }
  }
}

/** What a field costs beside each of its bytes, and what fetching bytes and finding their records costs for one. */
const FIELD_COST = 8
const SCAN_COST = 1.3

/** What each column of a block costs, in bytes that are read. */
function costsOf({ found, firstRecord }: FieldBlock, columns: number): number[] {
  const costs = new Array<number>(columns).fill(0)
  for (let r = firstRecord; r < found.count; r++) {
    const first = found.firstField[r]
    const fields = Math.min(columns, found.firstField[r + 1] - first)
    for (let c = 0; c < fields; c++) costs[c] += FIELD_COST + found.ends[first + c] - found.starts[first + c]
  }
  return costs
}
