import { keyShower, type ShowKey } from '../group/group-names.ts'
import { REST } from '../group/rest.ts'
import type { Bucket } from '../group/bucket.ts'
import type { Bits } from '../table/bits.ts'
import { isMissing, valueAt, type ColumnIndex, type Table, type Value } from '../table/column.ts'
import type { Show } from '../table/shown-text.ts'
import { lastAt } from '../layout/last-start.ts'
import { isTextAt, textBytes } from '../table/text-block.ts'
import type { Formats } from './request.ts'
import type { GroupKey, GroupPath } from './line.ts'

/** The groups of one level in their order: typed arrays and what is copied cheaply. */
export interface GroupedLevel {
  /** The column by which they are groups. */
  readonly column: ColumnIndex
  /** The column whose values are taken; the same, unless they are worked out. */
  readonly from: ColumnIndex
  readonly bucket: Bucket
  /** By code of the bucket, what names it; null: the value that its rows have. */
  readonly keys: readonly NonNullable<Value>[] | null
  /** By group: the code of its bucket; `keys.length`, or `missing`, stands for rows without a value, `REST` for what is left. */
  readonly keyOf: Uint32Array
  readonly missing: number
  /** By group: where its rows begin among the arranged, and past the last group how many there are. */
  readonly starts: Uint32Array
  /** By group: where its groups on the level below begin; null on the lowest. */
  readonly children: Uint32Array | null
  readonly feet: boolean
}

/** Reads what names the groups of a view. */
export class GroupReader {
  readonly levels: readonly GroupedLevel[]
  private readonly table: Table
  private readonly rows: Uint32Array | null
  private readonly shows: readonly Show[]
  private readonly showKeys: readonly ShowKey[]

  constructor(
    levels: readonly GroupedLevel[],
    table: Table,
    rows: Uint32Array | null,
    shows: readonly Show[],
    formats: Formats,
  ) {
    this.levels = levels
    this.table = table
    this.rows = rows
    this.shows = shows
    this.showKeys = levels.map(({ bucket, from, column }) =>
      keyShower(bucket, table.fields[from], shows[from], formats[table.fields[column].key]),
    )
  }

  isRest(level: number, group: number): boolean {
    return this.levels[level].keyOf[group] === REST
  }

  /** What names a group; null: rows without a value, or the rest. */
  value(level: number, group: number): Value {
    const { keys, keyOf, missing, from, bucket } = this.levels[level]
    const code = keyOf[group]
    if (code === REST || code === missing) return null
    if (keys) return keys[code]
    const value = valueAt(this.table.columns[from], this.firstRow(level, group))
    return bucket.by === 'shown' ? this.shows[from](value) : value
  }

  shown(level: number, group: number): string {
    const value = this.value(level, group)
    if (value === null) return ''
    const { keys, keyOf, bucket } = this.levels[level]
    if (bucket.by === 'shown') return String(value)
    return this.showKeys[level](value, keys?.[keyOf[group] + 1])
  }

  /** What names a group within the group that it is in, so that it can be written down. */
  key(level: number, group: number): GroupKey {
    if (this.isRest(level, group)) return { rest: true }
    const value = this.value(level, group)
    // JSON knows no infinity.
    return typeof value === 'number' && !Number.isFinite(value) ? String(value) : value
  }

  /** The group of a level above that a group is in. Logarithmic. */
  parent(level: number, group: number): number {
    const { children } = this.levels[level - 1]
    return children ? lastAt(children, 0, children.length - 1, group) : 0
  }

  path(level: number, group: number): GroupPath {
    const keys: GroupKey[] = []
    for (let l = level, g = group; l >= 0; l--) {
      keys.unshift(this.key(l, g))
      if (l > 0) g = this.parent(l, g)
    }
    return keys
  }

  /** The group that a path names; −1: there is none. Looks through the groups beside each on its way. */
  find(path: GroupPath): number {
    let [from, to] = [0, this.levels[0].keyOf.length]
    let group = -1
    for (let level = 0; level < path.length && level < this.levels.length; level++) {
      group = this.findBetween(level, path[level], from, to)
      const { children } = this.levels[level]
      if (group < 0 || !children) return level === path.length - 1 ? group : -1
      ;[from, to] = [children[group], children[group + 1]]
    }
    return path.length > this.levels.length ? -1 : group
  }

  private findBetween(level: number, key: GroupKey, from: number, to: number): number {
    const { keyOf, keys, missing, from: place, bucket } = this.levels[level]
    const codeIs = (code: number): number => {
      for (let group = from; group < to; group++) if (keyOf[group] === code) return group
      return -1
    }
    if (key === null) return codeIs(missing)
    if (typeof key === 'object') return codeIs(REST)
    if (keys) {
      const wanted = String(key)
      const code = keys.findIndex(one => one === key || (!Number.isFinite(one) && String(one) === wanted))
      return code < 0 ? -1 : codeIs(code)
    }
    const column = this.table.columns[place]
    if (
      typeof key === 'string' &&
      bucket.by === 'value' &&
      (column.kind === 'coded' || column.kind === 'plain')
    ) {
      const wanted = textBytes(key)
      for (let group = from; group < to; group++) {
        const row = this.firstRow(level, group)
        const text = column.kind === 'coded' ? column.codes[row] : row
        if (isTextAt(column.texts, text, wanted) && !isMissing(column, row) && keyOf[group] !== REST)
          return group
      }
      return -1
    }
    if (typeof key === 'number' && column.kind === 'number' && bucket.by === 'value') {
      const { values } = column
      for (let group = from; group < to; group++) {
        const row = this.firstRow(level, group)
        if (values[row] === key && !isMissing(column, row) && keyOf[group] !== REST) return group
      }
      return -1
    }
    for (let group = from; group < to; group++) if (this.value(level, group) === key) return group
    return -1
  }

  private firstRow(level: number, group: number): number {
    const position = this.levels[level].starts[group]
    return this.rows ? this.rows[position] : position
  }
}

/** More exceptions than this are found in one look at all groups. */
const MANY_EXCEPTIONS = 16

/** Which groups of each level are open. */
export function openBits(
  reader: GroupReader,
  { levels: open, except }: { readonly levels: number | null; readonly except: readonly GroupPath[] },
): Bits[] {
  const { levels } = reader
  const bits = levels.map(({ keyOf }, level) => {
    const all = new Uint32Array((keyOf.length + 31) >>> 5)
    return open === null || level < open ? all.fill(0xffffffff) : all
  })
  const turn = (level: number, group: number): void => {
    bits[level][group >>> 5] ^= 1 << (group & 31)
  }
  const many = except.length > MANY_EXCEPTIONS
  const different = [...new Map(except.map(path => [JSON.stringify(path), path])).values()]
  if (!many) {
    for (const path of different) {
      const group = path.length > 0 ? reader.find(path) : -1
      if (group >= 0) turn(path.length - 1, group)
    }
    return bits
  }
  const wanted = new Set(different.map(path => JSON.stringify(path)))
  const deepest = Math.max(...different.map(path => path.length))
  for (let level = 0; level < Math.min(deepest, levels.length); level++)
    for (let group = 0; group < levels[level].keyOf.length; group++)
      if (wanted.has(JSON.stringify(reader.path(level, group)))) turn(level, group)
  return bits
}
