import type { HeadLine, Line } from '../flow/line.ts'
import type { CellBlock } from '../question/cells.ts'
import type { LineReader } from '../source/row-source.ts'
import type { Value } from '../table/column.ts'
import type { RowId } from '../table/row-id.ts'

/** Lines of a block: about three screens, so that a scroll of some speed asks a few times a second. */
export const BLOCK_LINES = 96
/** Questions on their way at most. */
const AT_ONCE = 3
/** What is kept of texts and values, by a rough reckoning of their bytes. */
const KEPT_BYTES = 24 * 1024 * 1024
const BYTES_A_CELL = 64

export type FetchBlock = (
  from: number,
  to: number,
  columns: readonly string[],
  signal: AbortSignal,
) => Promise<CellBlock>

interface Block {
  readonly from: number
  readonly columns: readonly string[]
  readonly places: ReadonlyMap<string, number>
  readonly cells: CellBlock
}

/** A block that is on its way. */
interface Coming {
  readonly columns: readonly string[]
  readonly given: AbortController
}

/**
 * Reads lines of a source that is far away: in blocks, ahead of the scroll by its direction and speed, the newest wish
 * first, at most a few on their way. What is no longer wanted is given up down to the service's own work; what was
 * read is kept, the least used of it forgotten first.
 */
export class BlockReader implements LineReader {
  readonly lineCount: number
  private readonly fetchBlock: FetchBlock
  private readonly onFailed: (error: unknown) => void
  private readonly onTwice: () => void
  /** By row: the line on which it came; of what is kept. */
  private readonly cameOn = new Map<RowId, number>()
  /** By first line, the one used last at the end. */
  private readonly blocks = new Map<number, Block>()
  private readonly coming = new Map<number, Coming>()
  private readonly listeners = new Set<() => void>()
  private wishes: { readonly from: number; readonly columns: readonly string[] }[] = []
  private underWay = 0
  private kept = 0
  private lastFrom = 0
  /** Nobody has moved yet. */
  private lastAt = -Infinity
  private closed = false

  /** `onTwice`: hears of a row that came on two lines, which only happens where rows were changed meanwhile. */
  constructor(
    lineCount: number,
    fetchBlock: FetchBlock,
    onFailed: (error: unknown) => void,
    onTwice: () => void = () => {},
  ) {
    this.lineCount = lineCount
    this.fetchBlock = fetchBlock
    this.onFailed = onFailed
    this.onTwice = onTwice
  }

  line(index: number): Line | undefined {
    const block = this.blockAt(index)
    return block?.cells.lines[index - block.from]
  }

  groupsAt(index: number): readonly HeadLine[] | undefined {
    const block = this.blockAt(index)
    if (!block) return undefined
    const groups = [...block.cells.groups]
    for (const line of block.cells.lines.slice(0, index - block.from + 1))
      if (line.kind === 'head') groups.splice(line.level, groups.length, line)
      else if (line.kind === 'foot') groups.splice(line.level + 1)
    return groups
  }

  text(index: number, _row: RowId, column: string): string | undefined {
    return this.cell(index, column, ({ texts }) => texts)
  }

  value(index: number, _row: RowId, column: string): Value | undefined {
    return this.cell(index, column, ({ values }) => values)
  }

  want(from: number, to: number, columns: readonly string[]): void {
    const { forward, reach } = this.travel(from)
    const first = from - (from % BLOCK_LINES)
    const starts: number[] = []
    for (let at = first; at < to; at += BLOCK_LINES) starts.push(at)
    const end = first + starts.length * BLOCK_LINES
    for (let i = 0; i < reach; i++)
      starts.push(forward ? end + i * BLOCK_LINES : first - (i + 1) * BLOCK_LINES)
    const wanted = starts.filter(at => at >= 0 && at < this.lineCount)
    this.giveUpBut(new Set(wanted))
    this.wishes = wanted.flatMap(at => {
      const held = this.blocks.get(at)
      if (held && columns.every(column => held.places.has(column))) {
        this.touch(held)
        return []
      }
      // What was read of it is read along, so that there is one block of each line.
      return [{ from: at, columns: [...new Set([...(held?.columns ?? []), ...columns])] }]
    })
    this.fetchNext()
  }

  onArrive(listener: () => void): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  /** Whether lines that are in view are others by now than those that were read. */
  async differs(signal: AbortSignal): Promise<boolean> {
    const block = this.blockAt(this.lastFrom)
    if (!block) return false
    const to = Math.min(this.lineCount, block.from + BLOCK_LINES)
    const now = await this.fetchBlock(block.from, to, block.columns, signal)
    return JSON.stringify(now) !== JSON.stringify(block.cells)
  }

  close(): void {
    this.closed = true
    this.listeners.clear()
    for (const { given } of this.coming.values()) given.abort()
  }

  /** Which way the reader goes, and how many blocks ahead are read: more, the faster it goes. */
  private travel(from: number): { readonly forward: boolean; readonly reach: number } {
    const now = performance.now()
    const moved = from - this.lastFrom
    const perSecond = (Math.abs(moved) / Math.max(16, now - this.lastAt)) * 1000
    this.lastFrom = from
    this.lastAt = now
    // A jump says nothing of where the reader goes next.
    const reach = perSecond > BLOCK_LINES * 40 ? 0 : perSecond > BLOCK_LINES ? 2 : 1
    return { forward: moved >= 0, reach }
  }

  private giveUpBut(wanted: ReadonlySet<number>): void {
    for (const [from, { given }] of this.coming) {
      if (wanted.has(from)) continue
      given.abort()
      // Its place is free at once: it may be wanted again before it has ended.
      this.coming.delete(from)
    }
  }

  private fetchNext(): void {
    while (!this.closed && this.underWay < AT_ONCE) {
      const next = this.wishes.shift()
      if (!next) return
      const before = this.coming.get(next.from)
      if (before && next.columns.every(column => before.columns.includes(column))) continue
      before?.given.abort()
      this.underWay++
      void this.fetchOne(next.from, next.columns)
    }
  }

  /** What is there of its lines stays until what takes its place has come. */
  private async fetchOne(from: number, columns: readonly string[]): Promise<void> {
    const coming: Coming = { columns, given: new AbortController() }
    this.coming.set(from, coming)
    const { signal } = coming.given
    try {
      const to = Math.min(this.lineCount, from + BLOCK_LINES)
      const cells = await this.fetchBlock(from, to, columns, signal)
      if (this.closed || signal.aborted) return
      this.take({ from, columns, cells, places: new Map(columns.map((column, place) => [column, place])) })
      for (const listener of this.listeners) listener()
    } catch (error) {
      if (!signal.aborted && !this.closed) this.onFailed(error)
    } finally {
      if (this.coming.get(from) === coming) this.coming.delete(from)
      this.underWay--
      this.fetchNext()
    }
  }

  private take(block: Block): void {
    const before = this.blocks.get(block.from)
    if (before) this.forget(before)
    this.blocks.set(block.from, block)
    this.kept += block.cells.texts.length * BYTES_A_CELL
    this.makeRoom(block)
    if (this.noteRows(block)) this.onTwice()
  }

  /** Whether one of the rows stands on another line, too. */
  private noteRows({ from, cells }: Block): boolean {
    let twice = false
    for (const [nth, line] of cells.lines.entries()) {
      if (line.kind !== 'row') continue
      const before = this.cameOn.get(line.row)
      if (before !== undefined && before !== from + nth) twice = true
      this.cameOn.set(line.row, from + nth)
    }
    return twice
  }

  private makeRoom(but: Block): void {
    for (const block of this.blocks.values()) {
      if (this.kept <= KEPT_BYTES) return
      if (block !== but) this.forget(block)
    }
  }

  private forget(block: Block): void {
    this.blocks.delete(block.from)
    for (const [nth, line] of block.cells.lines.entries())
      if (line.kind === 'row' && this.cameOn.get(line.row) === block.from + nth) this.cameOn.delete(line.row)
    this.kept -= block.cells.texts.length * BYTES_A_CELL
  }

  private touch(block: Block): void {
    this.blocks.delete(block.from)
    this.blocks.set(block.from, block)
  }

  private blockAt(index: number): Block | undefined {
    return this.blocks.get(index - (index % BLOCK_LINES))
  }

  private cell<T>(index: number, column: string, of: (cells: CellBlock) => readonly T[]): T | undefined {
    const block = this.blockAt(index)
    const place = block?.places.get(column)
    if (!block || place === undefined) return undefined
    return of(block.cells)[(index - block.from) * block.columns.length + place]
  }
}
