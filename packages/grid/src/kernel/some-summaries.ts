import { usualSummary } from '@vast-meadow/engine/client'
import type { Rows, Summary } from '@vast-meadow/engine'
import { summaryName } from './arrangement-speaker.ts'
import type { GridModel } from './grid-model.ts'
import type { Parts } from './options.ts'
import type { Texts } from './texts.ts'

/** What a column comes to in some rows: which summary it is, and how it is shown. */
export interface ToldSummary {
  readonly what: string
  readonly value: string
}

/** Some rows, and the columns of which it is asked what they come to in them. */
export interface RowsOfColumns {
  readonly columns: readonly string[]
  readonly rows: Rows
}

/** What columns come to in some rows, whatever else is shown: by the summary that is arranged, else the usual one of their type. */
export class SomeSummaries {
  private readonly model: GridModel
  private readonly texts: Texts
  private readonly parts: Parts | undefined
  private told = new Map<string, ToldSummary>()
  private asked = 0

  constructor(model: GridModel, texts: Texts, parts: Parts | undefined) {
    this.model = model
    this.texts = texts
    this.parts = parts
  }

  of(column: string): ToldSummary | null {
    return this.told.get(column) ?? null
  }

  clear(): void {
    this.asked++
    this.told = new Map()
  }

  /** Asks anew; false where something was asked since, and what was told is of that. */
  async ask(parts: readonly RowsOfColumns[]): Promise<boolean> {
    const mine = ++this.asked
    const { model } = this
    if (!model.canTell('summarize')) return false
    const told = await Promise.all(
      parts.map(async ({ columns, rows }) => {
        const of = columns.flatMap(column => {
          const summary = this.summaryOf(column)
          return summary === null ? [] : [{ column, summary }]
        })
        if (of.length === 0) return []
        return (await model.ask('summarize', { request: model.request(), of, among: rows })) ?? []
      }),
    )
    if (mine !== this.asked) return false
    this.told = new Map(
      told.flat().map(({ column, summary, all }) => [
        column,
        {
          what: summaryName(summary, this.texts, this.parts),
          value: all === null ? '' : model.showSummaryOf(column, summary)(all),
        },
      ]),
    )
    return true
  }

  private summaryOf(column: string): Summary | null {
    const { summaries } = this.model.arrangement
    if (Object.hasOwn(summaries, column)) return summaries[column]
    const field = this.model.fieldOf(column)
    if (!field) return null
    return field.type === 'number' ? 'sum' : usualSummary(field.type)
  }
}
