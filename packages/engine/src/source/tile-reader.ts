import type { Value } from '../table/column.ts'
import type { RowId } from '../table/row-id.ts'
import type { HeadLine, Line } from '../flow/line.ts'
import type { CellBlock } from '../question/cells.ts'
import type { LineReader } from './row-source.ts'
import { sure } from '../work/checked.ts'

/** Lines and columns of one tile. A viewport touches four to eight tiles. */
export const TILE_LINES = 32
const TILE_COLUMNS = 16
/** Tiles kept; a few hundred kilobytes. */
const KEPT = 240

export type FetchCells = (from: number, to: number, columns: readonly string[]) => Promise<CellBlock>

/** Some columns of `TILE_LINES` lines; the block is null while its answer is on the way. */
interface Tile {
  block: CellBlock | null
  readonly from: number
  readonly columns: readonly string[]
}

/**
 * Reads lines from a source that answers later: cells are fetched in tiles, kept, and read ahead in the direction of
 * travel. At most two requests are on their way, newest wish first, so that a fast scroll leaves no queue behind.
 */
export class TileReader implements LineReader {
  readonly lineCount: number
  private readonly fetchCells: FetchCells
  /** By the first line; a tile of a few columns stands beside others of the same lines. */
  private readonly tiles = new Map<number, Tile[]>()
  private readonly arrived: Tile[] = []
  private readonly listeners = new Set<() => void>()
  private wanted: { from: number; columns: readonly string[] }[] = []
  private underWay = 0
  private lastFrom = 0
  private closed = false

  constructor(lineCount: number, fetchCells: FetchCells) {
    this.lineCount = lineCount
    this.fetchCells = fetchCells
  }

  line(index: number): Line | undefined {
    const from = index - (index % TILE_LINES)
    for (const tile of this.tiles.get(from) ?? []) if (tile.block) return tile.block.lines[index - from]
    return undefined
  }

  groupsAt(index: number): readonly HeadLine[] | undefined {
    const from = index - (index % TILE_LINES)
    const block = this.tiles.get(from)?.find(tile => tile.block)?.block
    if (!block) return undefined
    const groups = [...block.groups]
    for (const line of block.lines.slice(0, index - from + 1))
      if (line.kind === 'head') groups.splice(line.level, groups.length, line)
      else if (line.kind === 'foot') groups.splice(line.level + 1)
    return groups
  }

  text(index: number, _row: RowId, column: string): string | undefined {
    return this.cell(index, column, block => block.texts)
  }

  value(index: number, _row: RowId, column: string): Value | undefined {
    return this.cell(index, column, block => block.values)
  }

  want(from: number, to: number, columns: readonly string[]): void {
    if (columns.length === 0) columns = ['']
    const forward = from >= this.lastFrom
    this.lastFrom = from
    const first = from - (from % TILE_LINES)
    const wishes: { from: number; columns: readonly string[] }[] = []
    const ahead = forward ? [Math.ceil(to / TILE_LINES) * TILE_LINES] : [first - TILE_LINES]
    const starts: number[] = []
    for (let at = first; at < to; at += TILE_LINES) starts.push(at)
    for (const at of [...starts, ...ahead]) {
      if (at < 0 || at >= this.lineCount) continue
      for (let c = 0; c < columns.length; c += TILE_COLUMNS) {
        const some = columns.slice(c, c + TILE_COLUMNS).filter(column => !this.knows(at, column))
        if (some.length > 0) wishes.push({ from: at, columns: some })
      }
    }
    this.wanted = wishes
    this.fetchNext()
  }

  onArrive(listener: () => void): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  /** Nothing more is fetched, and answers on their way are dropped. */
  close(): void {
    this.closed = true
    this.listeners.clear()
  }

  private fetchNext(): void {
    while (!this.closed && this.underWay < 2) {
      const next = this.wanted.shift()
      if (!next) return
      const { from, columns } = next
      const tile: Tile = { block: null, from, columns }
      this.tilesAt(from).push(tile)
      this.underWay++
      void this.fetchTile(tile)
    }
  }

  private async fetchTile(tile: Tile): Promise<void> {
    try {
      const { from, columns } = tile
      tile.block = await this.fetchCells(from, Math.min(this.lineCount, from + TILE_LINES), columns)
      if (this.closed) return
      this.arrived.push(tile)
      if (this.arrived.length > KEPT) this.forget(sure(this.arrived.shift()))
      for (const listener of this.listeners) listener()
    } catch {
      // A dropped answer is asked for again when its lines are next wanted.
      this.forget(tile)
    } finally {
      this.underWay--
      this.fetchNext()
    }
  }

  private forget(tile: Tile): void {
    const rest = this.tilesAt(tile.from).filter(other => other !== tile)
    if (rest.length > 0) this.tiles.set(tile.from, rest)
    else this.tiles.delete(tile.from)
  }

  private tilesAt(from: number): Tile[] {
    let tiles = this.tiles.get(from)
    if (!tiles) this.tiles.set(from, (tiles = []))
    return tiles
  }

  private knows(from: number, column: string): boolean {
    return this.tiles.get(from)?.some(tile => tile.columns.includes(column)) ?? false
  }

  private cell<T>(index: number, column: string, of: (block: CellBlock) => readonly T[]): T | undefined {
    const from = index - (index % TILE_LINES)
    for (const { block, columns } of this.tiles.get(from) ?? []) {
      const place = block ? columns.indexOf(column) : -1
      if (block && place >= 0) return of(block)[(index - from) * columns.length + place]
    }
    return undefined
  }
}
