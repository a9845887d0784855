import { keyShower } from '../group/group-names.ts'
import type { Bucket } from '../group/bucket.ts'
import {
  asLine,
  NO_LINE,
  type FootLine,
  type GroupKey,
  type GroupPath,
  type HeadLine,
  type Line,
  type LineIndex,
} from '../flow/line.ts'
import type { FlowLevel, OpenGroups } from '../flow/request.ts'
import type { Binding } from '../flow/view-request.ts'
import { lastAt, lastStartAt } from '../layout/last-start.ts'
import { NestedLines, type LevelOfGroups, type PlaceOfLine } from '../layout/nested-lines.ts'
import type { ListedGroup } from '../question/level-groups.ts'
import { emptyBits, fullBits, hasBit, type Bits } from '../table/bits.ts'
import type { Value } from '../table/column.ts'
import { shower } from '../table/shown-text.ts'
import type { Property } from './schema.ts'

/** A level by a property of the service. */
export interface ServiceLevel {
  readonly level: FlowLevel
  readonly property: Property
  readonly bucket: Bucket
}

/** What a level is compared by: values of its groups by their path, where it is ordered by more than what names them. */
export type Measures = ReadonlyMap<string, number>

/** A group of the lowest level, as the service tells it. */
export interface CountedGroup {
  readonly keys: readonly GroupKey[]
  readonly rows: number
}

interface Node {
  readonly key: GroupKey
  readonly path: GroupPath
  rows: number
  readonly children: Map<string, Node>
}

interface PlacedLevel extends LevelOfGroups {
  readonly nodes: readonly Node[]
  readonly places: ReadonlyMap<string, number>
  readonly shown: (key: GroupKey) => string
}

export const pathText = (path: GroupPath): string => JSON.stringify(path)

/** The groups of a view over a service: their tree, their order, and the lines that they take. */
export class ServiceGroups {
  readonly levels: readonly ServiceLevel[]
  readonly rowCount: number
  readonly nested: NestedLines
  private readonly placed: readonly PlacedLevel[]

  constructor(
    levels: readonly ServiceLevel[],
    counted: readonly CountedGroup[],
    measures: readonly Measures[],
    open: OpenGroups,
    binding: Binding,
  ) {
    this.levels = levels
    const root = treeOf(counted)
    this.rowCount = root.rows
    this.placed = place(levels, root, measures, open, binding)
    this.nested = new NestedLines(this.placed)
  }

  get lineCount(): number {
    return this.nested.lineCount
  }

  countOf(level: number): number {
    return this.placed[level].nodes.length
  }

  /** The number of a group on its level; −1: there is none. */
  find(path: GroupPath): number {
    return path.length > 0 && path.length <= this.placed.length
      ? (this.placed[path.length - 1].places.get(pathText(path)) ?? -1)
      : -1
  }

  at(line: number): PlaceOfLine {
    return this.nested.at(line)
  }

  /** The group of the lowest level in which a row stands, and its place among the group's rows. */
  rowPlace(row: number): { readonly path: GroupPath; readonly group: number; readonly nth: number } {
    const lowest = this.placed[this.placed.length - 1]
    const group = lastStartAt(lowest.starts, lowest.starts.length - 1, row)
    return { path: lowest.nodes[group].path, group, nth: row - lowest.starts[group] }
  }

  startOf(level: number, group: number): number {
    return this.placed[level].starts[group]
  }

  pathOf(level: number, group: number): GroupPath {
    return this.placed[level].nodes[group].path
  }

  head(level: number, group: number): HeadLine {
    const { nested } = this
    const parent = level > 0 ? this.parent(level, group) : -1
    const siblings = parent < 0 ? null : this.placed[level - 1].children
    const first = siblings ? siblings[parent] : 0
    const end = siblings ? siblings[parent + 1] : this.countOf(0)
    const isShown = nested.isShown(level, group)
    return {
      kind: 'head',
      ...this.group(level, group),
      open: hasBit(this.placed[level].open, group),
      line: isShown ? asLine(nested.lineOfGroup(level, group)) : NO_LINE,
      end: isShown ? asLine(nested.end(level, group)) : NO_LINE,
      nth: group - first + 1,
      of: end - first,
    }
  }

  foot(level: number, group: number): FootLine {
    return { kind: 'foot', ...this.group(level, group) }
  }

  /** The line of a head or a foot; of a row, where the service has told it, `row` names it. */
  lineAt(place: Exclude<PlaceOfLine, { kind: 'row' }>): Line {
    return place.kind === 'head' ? this.head(place.level, place.group) : this.foot(place.level, place.group)
  }

  groupsAt(line: LineIndex): readonly HeadLine[] {
    const place = this.nested.at(line)
    const row = place.kind === 'row' ? place.row : this.placed[place.level].starts[place.group]
    const depth = place.kind === 'row' ? place.level : place.level + 1
    return this.placed
      .slice(0, depth)
      .map(({ starts }, level) => this.head(level, lastStartAt(starts, starts.length - 1, row)))
  }

  listed(level: number, from: number, to: number): ListedGroup[] {
    const { nodes, shown } = this.placed[level]
    return nodes.slice(Math.max(0, from), to).map(({ key, path, rows }) => ({
      path,
      value: valueOf(key),
      shown: shown(key),
      rest: false,
      rows,
    }))
  }

  /** What names a group; empty where its value is missing. */
  shownOf(level: number, group: number): string {
    const { nodes, shown } = this.placed[level]
    return shown(nodes[group].key)
  }

  /** Of a level, the groups that rows stand in from one up to another: from the first of them up to the one past the last. */
  groupsOfRows(level: number, from: number, to: number): { readonly first: number; readonly end: number } {
    const { starts } = this.placed[level]
    const groupOf = (row: number): number => lastStartAt(starts, starts.length - 1, row)
    return to > from ? { first: groupOf(from), end: groupOf(to - 1) + 1 } : { first: 0, end: 0 }
  }

  /** The groups of the level below that a group has: from the first of them up to the one past the last. */
  childrenOf(level: number, group: number): { readonly first: number; readonly end: number } {
    const { children } = this.placed[level]
    return children ? { first: children[group], end: children[group + 1] } : { first: 0, end: 0 }
  }

  private group(level: number, group: number): Omit<FootLine, 'kind'> {
    const { nodes, shown, children } = this.placed[level]
    const { key, path, rows } = nodes[group]
    return {
      level,
      group,
      column: this.levels[level].level.column,
      path,
      value: valueOf(key),
      shown: shown(key),
      rest: false,
      count: rows,
      groups: children ? children[group + 1] - children[group] : 0,
    }
  }

  private parent(level: number, group: number): number {
    const { children } = this.placed[level - 1]
    return children ? lastAt(children, 0, children.length - 1, group) : 0
  }
}

/** JSON knows no number without an end: it is told as a text. */
const isEndless = (key: GroupKey): boolean => key === 'Infinity' || key === '-Infinity'
const isNumber = (key: GroupKey): boolean => typeof key === 'number' || isEndless(key)

const valueOf = (key: GroupKey): Value => (typeof key === 'object' ? null : key)

function treeOf(counted: readonly CountedGroup[]): Node {
  const root: Node = { key: null, path: [], rows: 0, children: new Map() }
  for (const { keys, rows } of counted) {
    let at = root
    at.rows += rows
    for (const [level, key] of keys.entries()) {
      const name = JSON.stringify(key)
      let child = at.children.get(name)
      if (!child)
        at.children.set(name, (child = { key, path: keys.slice(0, level + 1), rows: 0, children: new Map() }))
      child.rows += rows
      at = child
    }
  }
  return root
}

/** Puts the groups of every level into their order, and counts where each begins. */
function place(
  levels: readonly ServiceLevel[],
  root: Node,
  measures: readonly Measures[],
  open: OpenGroups,
  binding: Binding,
): PlacedLevel[] {
  let parents: readonly Node[] = [root]
  const nodesOf: (readonly Node[])[] = []
  const showns = levels.map(level => shownOf(level, binding))
  for (const [nth, level] of levels.entries()) {
    const compare = comparer(level, showns[nth], measures[nth], binding.locale)
    nodesOf.push(parents.flatMap(({ children }) => [...children.values()].sort(compare)))
    parents = nodesOf[nth]
  }
  return levels.map(({ level }, nth): PlacedLevel => {
    const nodes = nodesOf[nth]
    return {
      nodes,
      shown: showns[nth],
      starts: sums(nodes.map(({ rows }) => rows)),
      children: nth + 1 < levels.length ? sums(nodes.map(({ children }) => children.size)) : null,
      open: openOf(nodes, nth, open),
      feet: level.feet,
      places: new Map(nodes.map(({ path }, i) => [pathText(path), i])),
    }
  })
}

/** Where each of some runs begins, and past the last how long they are in all. */
function sums(counts: readonly number[]): Uint32Array {
  const starts = new Uint32Array(counts.length + 1)
  for (const [i, count] of counts.entries()) starts[i + 1] = starts[i] + count
  return starts
}

function openOf(nodes: readonly Node[], level: number, { levels, except }: OpenGroups): Bits {
  const isOpen = levels === null || level < levels
  const bits = isOpen ? fullBits(nodes.length) : emptyBits(nodes.length)
  const turned = new Set(except.filter(({ length }) => length === level + 1).map(pathText))
  if (turned.size === 0) return bits
  for (const [i, { path }] of nodes.entries()) if (turned.has(pathText(path))) bits[i >>> 5] ^= 1 << (i & 31)
  return bits
}

function shownOf(
  { property: { field }, bucket }: ServiceLevel,
  { formats }: Binding,
): (key: GroupKey) => string {
  const format = formats[field.key]
  const show = keyShower(bucket, field, shower(field, format), format)
  const isNumber = field.type === 'number' || field.type === 'integer'
  return key => {
    if (key === null || typeof key === 'object') return ''
    return show(isNumber && isEndless(key) ? Number(key) : key, undefined)
  }
}

/** Keys of groups that have a value, as they are ordered by themselves. */
const compareKeys = (a: GroupKey, b: GroupKey, collator: Intl.Collator): number =>
  isNumber(a) && isNumber(b)
    ? Number(a) - Number(b)
    : collator.compare(String(valueOf(a)), String(valueOf(b)))

/** Paths of groups of one level, each level by its keys, what has no value last. */
export function comparePaths(a: GroupPath, b: GroupPath, collator: Intl.Collator): number {
  for (const [i, key] of a.entries()) {
    if (key === b[i]) continue
    if (key === null || b[i] === null) return key === null ? 1 : -1
    const compared = compareKeys(key, b[i], collator)
    if (compared !== 0) return compared
  }
  return 0
}

function comparer(
  { level }: ServiceLevel,
  shown: (key: GroupKey) => string,
  measures: Measures | undefined,
  locale: string | undefined,
): (a: Node, b: Node) => number {
  const { by, direction, missing } = level.order
  const sign = direction === 'descending' ? -1 : 1
  const collator = new Intl.Collator(locale)
  const byKey = (a: Node, b: Node): number => compareKeys(a.key, b.key, collator)
  const measureOf = ({ path, rows }: Node): number =>
    by === 'size' ? rows : (measures?.get(pathText(path)) ?? NaN)
  return (a, b) => {
    if ((a.key === null) !== (b.key === null)) return (a.key === null) === (missing === 'first') ? -1 : 1
    if (a.key === null) return 0
    if (by === 'key') return sign * byKey(a, b)
    if (by === 'shown') return sign * collator.compare(shown(a.key), shown(b.key)) || byKey(a, b)
    const [x, y] = [measureOf(a), measureOf(b)]
    if (x === y || (Number.isNaN(x) && Number.isNaN(y))) return byKey(a, b)
    // What comes to nothing is last in both directions.
    if (Number.isNaN(x) || Number.isNaN(y)) return Number.isNaN(x) ? 1 : -1
    return sign * (x - y)
  }
}
