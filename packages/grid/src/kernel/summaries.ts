import { keysIn } from '@vast-meadow/engine/client'
import type { ColumnSummary, FootLine, HeadLine, Show, Value } from '@vast-meadow/engine'
import type { GridModel } from './grid-model.ts'

interface Told extends ColumnSummary {
  readonly show: Show
}

export interface SummariesHost {
  /** The columns that are in view. */
  shownColumns(): readonly string[]
  /** Summaries have come. */
  arrived(): void
  readonly failed: (error: unknown) => void
}

/**
 * What columns come to in groups and in all rows. Asked of the source when a column comes into view, once for each
 * view of the rows, so that no row waits for it; read at once where heads are drawn.
 */
export class Summaries {
  private readonly model: GridModel
  private readonly host: SummariesHost
  private readonly told = new Map<string, Told>()
  private readonly asked = new Set<string>()
  private signature = ''
  /** The next view is of other rows. */
  rowsDiffer = false
  /** Counts the views of other rows; what comes late is of one before. */
  private age = 0

  constructor(model: GridModel, host: SummariesHost) {
    this.model = model
    this.host = host
  }

  /** Columns that come to something. */
  get columns(): readonly string[] {
    return keysIn(this.model.arrangement.summaries)
  }

  /** Another view is shown: what is known holds where it is of the same rows in the same groups. */
  viewed(): void {
    const { open: _, clock: _clock, among, ...request } = this.model.request()
    const signature = JSON.stringify([request, among?.name])
    if (this.rowsDiffer || signature !== this.signature) this.forget()
    this.rowsDiffer = false
    this.signature = signature
    this.ask()
  }

  /** Other summaries are arranged, or columns came into view. */
  ask(): void {
    const { model, host } = this
    const { summaries } = model.arrangement
    for (const [column, { summary }] of this.told)
      if (JSON.stringify(summaries[column]) !== JSON.stringify(summary)) {
        this.told.delete(column)
        this.asked.delete(column)
      }
    const shown = new Set(host.shownColumns())
    const of = this.columns
      .filter(column => shown.has(column) && !this.asked.has(column) && model.fieldOf(column))
      .map(column => ({ column, summary: summaries[column] }))
    if (of.length === 0 || !model.canTell('summarize')) return
    for (const { column } of of) this.asked.add(column)
    const { age } = this
    model.ask('summarize', { request: model.request(), of }).then(told => {
      if (age !== this.age || !told) return
      for (const one of told) {
        const show = model.showSummaryOf(one.column, one.summary)
        this.told.set(one.column, { ...one, show })
      }
      host.arrived()
    }, host.failed)
  }

  forget(): void {
    this.age++
    this.told.clear()
    this.asked.clear()
  }

  /** What a column comes to in a group, as it is shown; empty: nothing, or not yet known. */
  textOf({ level, group }: HeadLine | FootLine, column: string): string {
    const told = this.told.get(column)
    return told ? written(told.levels.at(level)?.[group] ?? null, told.show) : ''
  }

  /** What a column comes to in all rows. */
  textOfAll(column: string): string {
    const told = this.told.get(column)
    return told ? written(told.all, told.show) : ''
  }
}

const written = (value: Value, show: Show): string =>
  value === null || (typeof value === 'number' && Number.isNaN(value)) ? '' : show(value)
