import { hasBit, type Bits } from '../table/bits.ts'
import { lastAt } from './last-start.ts'

/** The groups of one level, in their order, each within one group of the level above. */
export interface LevelOfGroups {
  /** By group: the position of its first row, and past the last group the number of rows. */
  readonly starts: Uint32Array
  /** By group: its first group on the level below, and past the last group how many there are; null on the lowest level. */
  readonly children: Uint32Array | null
  readonly open: Bits
  /** Whether each group that is open ends in a line of its own. */
  readonly feet: boolean
}

/** What stands on a line. `row` is a position among the arranged rows, `group` a group of its level. */
export type PlaceOfLine =
  | { readonly kind: 'row'; readonly level: number; readonly row: number }
  | { readonly kind: 'head' | 'foot'; readonly level: number; readonly group: number }

const HIDDEN = 0xffffffff

/** Rows `from` up to `to` among the arranged, on lines from `line` on: one each (`step` 1), or all on one (0). */
export interface LineRun {
  readonly from: number
  readonly to: number
  readonly line: number
  readonly step: 0 | 1
}

/** Where the heads of all groups stand. */
export interface HeadLines {
  /** By level and group: the line of its head; a number beyond all lines within a closed group. */
  readonly heads: readonly Uint32Array[]
  readonly lineCount: number
}

/** Counts the lines that groups take, with what is closed left out. One number a group; linear in the groups. */
export function countLines(levels: readonly LevelOfGroups[]): HeadLines {
  const sizes = levels.map(({ starts }) => new Uint32Array(starts.length - 1))
  for (let level = levels.length - 1; level >= 0; level--)
    sizeLevel(levels[level], sizes[level], sizes[level + 1])
  const heads = levels.map(({ starts }) => new Uint32Array(starts.length - 1).fill(HIDDEN))
  let line = 0
  for (let group = 0; group < sizes[0].length; group++) {
    heads[0][group] = line
    line += sizes[0][group]
  }
  for (let level = 0; level + 1 < levels.length; level++)
    placeChildren(levels[level], heads[level], heads[level + 1], sizes[level + 1])
  return { heads, lineCount: line }
}

/** Which lines groups of any depth take. Lines themselves are never listed; asked in logarithmic time. */
export class NestedLines {
  readonly levels: readonly LevelOfGroups[]
  readonly lineCount: number
  private readonly heads: readonly Uint32Array[]

  constructor(levels: readonly LevelOfGroups[], { heads, lineCount } = countLines(levels)) {
    this.levels = levels
    this.heads = heads
    this.lineCount = lineCount
  }

  /** What stands on a line. */
  at(line: number): PlaceOfLine {
    if (!(line >= 0 && line < this.lineCount))
      throw new RangeError(`There is no line ${line} of ${this.lineCount}.`)
    let [from, to] = [0, this.heads[0].length]
    for (let level = 0; ; level++) {
      const { starts, children, feet } = this.levels[level]
      const group = lastAt(this.heads[level], from, to, line)
      const head = this.heads[level][group]
      if (line === head) return { kind: 'head', level, group }
      if (!children) {
        const rows = starts[group + 1] - starts[group]
        return line - head <= rows
          ? { kind: 'row', level: level + 1, row: starts[group] + line - head - 1 }
          : { kind: 'foot', level, group }
      }
      ;[from, to] = [children[group], children[group + 1]]
      if (feet && line === this.end(level, group) - 1) return { kind: 'foot', level, group }
    }
  }

  /** The line of a row by its position among the arranged, or of the closed group that holds it. */
  lineOfRow(row: number): number {
    let [from, to] = [0, this.heads[0].length]
    for (let level = 0; ; level++) {
      const { starts, children, open } = this.levels[level]
      const group = lastAt(starts, from, to, row)
      const head = this.heads[level][group]
      if (!hasBit(open, group)) return head
      if (!children) return head + 1 + row - starts[group]
      ;[from, to] = [children[group], children[group + 1]]
    }
  }

  /**
   * The lines of all rows, group by group of the lowest level: those of an open group stand one a line from `line` on,
   * those of a closed one all on the line of the head that stands for them.
   */
  *lineRuns(): Iterable<LineRun> {
    const lowest = this.levels.length - 1
    const { starts, open } = this.levels[lowest]
    for (let group = 0; group + 1 < starts.length; group++) {
      const line = this.lineOfRow(starts[group])
      const isOpen = hasBit(open, group) && this.isShown(lowest, group)
      yield { from: starts[group], to: starts[group + 1], line, step: isOpen ? 1 : 0 }
    }
  }

  /** The line of a group's head, or of the closed group that holds it. */
  lineOfGroup(level: number, group: number): number {
    const head = this.heads[level][group]
    return head === HIDDEN ? this.lineOfGroup(level - 1, this.parentOf(level, group)) : head
  }

  /** The group of the level above that holds a group. */
  parentOf(level: number, group: number): number {
    const { children } = this.levels[level - 1]
    return children ? lastAt(children, 0, children.length - 1, group) : 0
  }

  /** Whether a group's head stands on a line of its own, in no closed group. */
  isShown(level: number, group: number): boolean {
    return this.heads[level][group] !== HIDDEN
  }

  /** Past the last line of a group. */
  end(level: number, group: number): number {
    const heads = this.heads[level]
    if (level === 0) return group + 1 < heads.length ? heads[group + 1] : this.lineCount
    const parent = this.parentOf(level, group)
    const { children, feet } = this.levels[level - 1]
    if (children && group + 1 < children[parent + 1]) return heads[group + 1]
    return this.end(level - 1, parent) - (feet ? 1 : 0)
  }
}

/** How many lines each group takes, what is in it included. */
function sizeLevel(
  { starts, children, open, feet }: LevelOfGroups,
  sizes: Uint32Array,
  below: Uint32Array | undefined,
): void {
  const foot = feet ? 1 : 0
  for (let group = 0; group < sizes.length; group++) {
    if (!hasBit(open, group)) sizes[group] = 1
    else if (!children || !below) sizes[group] = 1 + starts[group + 1] - starts[group] + foot
    else {
      let lines = 1 + foot
      for (let child = children[group]; child < children[group + 1]; child++) lines += below[child]
      sizes[group] = lines
    }
  }
}

function placeChildren(
  { children, open }: LevelOfGroups,
  heads: Uint32Array,
  below: Uint32Array,
  sizes: Uint32Array,
): void {
  if (!children) return
  for (let group = 0; group < heads.length; group++) {
    if (heads[group] === HIDDEN || !hasBit(open, group)) continue
    let line = heads[group] + 1
    for (let child = children[group]; child < children[group + 1]; child++) {
      below[child] = line
      line += sizes[child]
    }
  }
}
