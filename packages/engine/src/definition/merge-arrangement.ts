import type { Condition } from '../condition/condition.ts'
import { kindsFor } from '../condition/condition.ts'
import { bucketFits } from '../group/bucket.ts'
import type { GroupMeasure, Level } from '../group/level.ts'
import { kindOf, summaryField, summaryFits, type Summary } from '../summary/summary.ts'
import type { Field } from '../table/column.ts'
import { sameJson } from '../work/same-json.ts'
import type { Arrangement } from './arrangement-schema.ts'
import { arrangementFor, shownColumns } from './arrangement.ts'
import { partOf } from './column-places.ts'
import type { ColumnDefinition, Definition } from './definition.ts'
import { columnsMoved, partedHeadings } from './heading-places.ts'
import { columnsUnder } from './headings.ts'
import { renamedIn } from './rename-column.ts'

/** Something of a kept arrangement that does not hold any more, and why. */
export interface LeftOut {
  readonly code:
    | 'no-such-column'
    | 'not-orderable'
    | 'one-key-only'
    | 'not-askable'
    | 'not-for-type'
    | 'not-groupable'
    | 'not-offered'
    | 'not-movable'
    | 'stays-together'
    | 'not-searchable'
    | 'no-such-size'
  readonly part: keyof Arrangement
  /** The column that is spoken of, as it was kept; null: none in particular. */
  readonly column: string | null
}

export interface MergedArrangement {
  readonly arrangement: Arrangement
  readonly leftOut: readonly LeftOut[]
}

/**
 * What a reader arranged, laid over a definition that may have changed since. What still applies is kept; what the
 * definition does not allow any more, or what its columns cannot be asked, is as the definition starts, and is told of.
 * Columns that were renamed (`was`) take over what was arranged of them. `fields`: what the rows have; null: not known,
 * then nothing is left out for its type.
 */
export function mergeArrangement(
  definition: Definition,
  kept: Partial<Arrangement>,
  fields: readonly Field[] | null,
): MergedArrangement {
  const leftOut: LeftOut[] = []
  const merger = new Merger(definition, fields, leftOut)
  const saved = renamedIn(kept, merger.nameNow)
  merger.tellOfGone(saved)
  const start = arrangementFor(definition)
  const made: Partial<Arrangement> = {
    ...saved,
    ...(saved.columns && { columns: merger.columns(saved.columns, start) }),
    ...(saved.pinnedStart && { pinnedStart: merger.pinned('pinnedStart', saved.pinnedStart, start) }),
    ...(saved.pinnedEnd && { pinnedEnd: merger.pinned('pinnedEnd', saved.pinnedEnd, start) }),
    ...(saved.widths && { widths: merger.widths(saved.widths, start.widths) }),
    ...(saved.order && { order: merger.order(saved.order, start.order) }),
    ...(saved.conditions && { conditions: merger.conditions(saved.conditions, start.conditions) }),
    ...(saved.search !== undefined && { search: merger.search(saved.search, start.search) }),
    ...(saved.groups && { groups: merger.groups(saved.groups, start.groups) }),
    ...(saved.summaries && { summaries: merger.summaries(saved.summaries, start.summaries) }),
    ...(saved.pageSize !== undefined && { pageSize: merger.pageSize(saved.pageSize, start.pageSize) }),
  }
  return { arrangement: merger.together(arrangementFor(definition, made)), leftOut }
}

class Merger {
  private readonly definition: Definition
  private readonly leftOut: LeftOut[]
  private readonly byKey: ReadonlyMap<string, ColumnDefinition>
  private readonly fieldOf: ReadonlyMap<string, Field>
  private readonly renamed: ReadonlyMap<string, string>

  constructor(definition: Definition, fields: readonly Field[] | null, leftOut: LeftOut[]) {
    this.definition = definition
    this.leftOut = leftOut
    this.byKey = new Map(definition.columns.map(column => [column.key, column]))
    this.fieldOf = new Map((fields ?? []).map(field => [field.key, field]))
    this.renamed = new Map(
      definition.columns.flatMap(({ key, was }) => (was ?? []).map((name): [string, string] => [name, key])),
    )
  }

  /** What a column is called by now; a column that is there is what it was. */
  readonly nameNow = (key: string): string => (this.byKey.has(key) ? key : (this.renamed.get(key) ?? key))

  /** Of columns that are gone, those are told of by which rows were ordered, narrowed, grouped or summed up. */
  tellOfGone({ order = [], conditions = {}, groups = [], summaries = {} }: Partial<Arrangement>): void {
    const gone = (part: keyof Arrangement, columns: readonly string[]): void => {
      for (const column of columns) if (!this.byKey.has(column)) this.leave('no-such-column', part, column)
    }
    gone(
      'order',
      order.map(({ column }) => column),
    )
    gone('conditions', Object.keys(conditions))
    gone(
      'groups',
      groups.map(({ column }) => column),
    )
    gone('summaries', Object.keys(summaries))
  }

  /** Columns that stay where they are stand as at the start, each behind the one that it stands behind there. */
  columns(saved: readonly string[], start: Arrangement): string[] {
    const stay = start.columns.filter(key => !this.isMovable(key))
    const known = [...new Set(saved)].filter(key => this.byKey.has(key))
    if (stay.length === 0) return known
    const made = arrangementFor(this.definition, { columns: known }).columns.filter(
      key => !stay.includes(key),
    )
    for (const key of stay) made.splice(start.columns.indexOf(key), 0, key)
    const wanted = arrangementFor(this.definition, { columns: known }).columns
    if (!sameJson(made, wanted)) {
      const away = stay.filter(key => made.indexOf(key) !== wanted.indexOf(key))
      this.leave('not-movable', 'columns', away[0] ?? null)
    }
    return made
  }

  /** Columns of headings that stay together stand beside the first of them. */
  together(arrangement: Arrangement): Arrangement {
    let made = arrangement
    const begun = partedHeadings(this.definition, arrangementFor(this.definition))
    for (const heading of partedHeadings(this.definition, arrangement)) {
      if (begun.includes(heading)) continue
      const columns = columnsUnder(this.definition, heading)
      const shown = shownColumns(made)
      const inOrder = [...shown.start, ...shown.middle, ...shown.end].filter(key => columns.includes(key))
      const part = partOf(made, inOrder[0])
      const there = shown[part]
      const before = there.slice(there.indexOf(inOrder[0])).find(key => !columns.includes(key)) ?? null
      made = { ...made, ...columnsMoved(made, inOrder, { part, before }) }
      this.leave('stays-together', 'columns', inOrder[0])
    }
    return made
  }

  /** A column that stays where it is is pinned as at the start. */
  pinned(part: 'pinnedStart' | 'pinnedEnd', saved: readonly string[], start: Arrangement): string[] {
    const allowed = saved.filter(key => this.isMovable(key) || start[part].includes(key))
    for (const column of saved)
      if (this.byKey.has(column) && !allowed.includes(column)) this.leave('not-movable', part, column)
    return [...allowed, ...start[part].filter(key => !this.isMovable(key) && !allowed.includes(key))]
  }

  widths(saved: Arrangement['widths'], start: Arrangement['widths']): Arrangement['widths'] {
    const within = (key: string, width: number): number => {
      const { minWidth = 0, maxWidth = Infinity } = this.byKey.get(key) ?? {}
      return width === start[key] ? width : Math.max(minWidth, Math.min(maxWidth, width))
    }
    return Object.fromEntries(Object.entries(saved).map(([key, width]) => [key, within(key, width)]))
  }

  order(saved: Arrangement['order'], start: Arrangement['order']): Arrangement['order'] {
    const begun = new Set(start.map(({ column }) => column))
    const allowed = saved.filter(({ column }) => {
      if (this.byKey.get(column)?.orderable !== false || begun.has(column)) return true
      this.leave('not-orderable', 'order', column)
      return false
    })
    if (this.definition.severalKeys || allowed.length < 2 || sameJson(allowed, start)) return allowed
    this.leave('one-key-only', 'order', allowed[1].column)
    return allowed.slice(0, 1)
  }

  conditions(saved: Arrangement['conditions'], start: Arrangement['conditions']): Arrangement['conditions'] {
    const made: Record<string, Condition> = {}
    for (const [key, condition] of Object.entries(saved)) {
      const column = this.byKey.get(key)
      if (!column) continue
      // What is as at the start is the builder's own doing.
      if (sameJson(condition, start[key])) made[key] = condition
      else if (!column.askable) this.leave('not-askable', 'conditions', key)
      else if (this.canBeAsked(condition, key)) made[key] = condition
      else this.leave('not-for-type', 'conditions', key)
    }
    // What readers may not ask, nor lift, holds as at the start.
    for (const [key, condition] of Object.entries(start))
      if (this.byKey.get(key)?.askable === false) made[key] = condition
    return made
  }

  search(saved: string, start: string): string {
    if (this.definition.searchable || saved === start) return saved
    if (saved.trim()) this.leave('not-searchable', 'search', null)
    return start
  }

  groups(saved: readonly Level[], start: readonly Level[]): Level[] {
    const begun = new Set(start.map(({ column }) => column))
    const allowed = saved.filter(({ column }) => {
      const defined = this.byKey.get(column)
      if (!defined) return false
      if ((this.definition.groupable && defined.groupable) || begun.has(column)) return true
      this.leave('not-groupable', 'groups', column)
      return false
    })
    return allowed.map(level =>
      start.some(one => sameJson(one, level)) ? level : this.levelThatHolds(level),
    )
  }

  summaries(saved: Arrangement['summaries'], start: Arrangement['summaries']): Arrangement['summaries'] {
    const made: Record<string, Summary> = {}
    for (const [key, summary] of Object.entries(saved)) {
      const column = this.byKey.get(key)
      if (!column) continue
      if (sameJson(summary, start[key])) {
        made[key] = summary
        continue
      }
      const offered = !column.summaries || column.summaries.some(one => sameJson(one, summary))
      if (!offered) this.leave('not-offered', 'summaries', key)
      else if (this.comesTo(summary, key)) made[key] = summary
      else this.leave('not-for-type', 'summaries', key)
    }
    return made
  }

  pageSize(saved: number | null, start: number | null): number | null {
    const { pages } = this.definition
    if (!pages || saved === null || saved === start || saved === pages.size || pages.sizes.includes(saved))
      return saved
    this.leave('no-such-size', 'pageSize', null)
    return start
  }

  private isMovable(key: string): boolean {
    return this.definition.movable && (this.byKey.get(key)?.movable ?? false)
  }

  private leave(code: LeftOut['code'], part: LeftOut['part'], column: string | null): void {
    this.leftOut.push({ code, part, column })
  }

  /** Whether each part can ask a column's values; conditions of a host's own say so themselves. */
  private canBeAsked({ parts }: Condition, key: string): boolean {
    const field = this.fieldOf.get(key)
    if (!field) return true
    const kinds = kindsFor(field.type)
    return parts.every(({ kind }) => kind === 'own' || kinds.includes(kind))
  }

  private comesTo(summary: Summary, key: string): boolean {
    const field = this.fieldOf.get(key)
    return !field || ['expression', 'own'].includes(kindOf(summary)) || summaryFits(summary, field.type)
  }

  /** A level as far as it holds: cut another way where its column cannot be cut so, kept by what can be asked. */
  private levelThatHolds(level: Level): Level {
    const field = this.fieldOf.get(level.column)
    let made = level
    if (field && !bucketFits(level.bucket, field.type)) {
      this.leave('not-for-type', 'groups', level.column)
      made = { ...made, bucket: { by: 'value' } }
    }
    const { order, keep } = made
    if (!this.measures(order.by === 'key' || order.by === 'shown' ? 'size' : order.by)) {
      this.leave('not-for-type', 'groups', level.column)
      made = { ...made, order: { ...order, by: 'key' } }
    }
    if (keep) {
      const where = keep.where.filter(
        ({ of, condition }) => this.measures(of) && this.canMeasure(of, condition),
      )
      const most = keep.most && this.measures(keep.most.of) ? keep.most : undefined
      if (where.length < keep.where.length || most !== keep.most) {
        this.leave('not-for-type', 'groups', level.column)
        const { keep: _, ...rest } = made
        made = where.length > 0 || most ? { ...rest, keep: { where, ...(most && { most }) } } : rest
      }
    }
    return made
  }

  private measures(measure: GroupMeasure): boolean {
    return (
      measure === 'size' || (this.byKey.has(measure.column) && this.comesTo(measure.summary, measure.column))
    )
  }

  private canMeasure(measure: GroupMeasure, { parts }: Condition): boolean {
    const field = measure === 'size' ? undefined : this.fieldOf.get(measure.column)
    const type = measure === 'size' ? 'integer' : field && summaryField(measure.summary, field).type
    if (!type) return true
    const kinds = kindsFor(type)
    return parts.every(({ kind }) => kinds.includes(kind))
  }
}
