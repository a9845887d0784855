import { shownColumns } from '../definition/arrangement.ts'
import type { Arrangement } from '../definition/arrangement-schema.ts'
import { bindingOf } from '../definition/binding.ts'
import type { Definition } from '../definition/definition.ts'
import { requestOf } from '../definition/request-of.ts'
import type { Line } from '../flow/line.ts'
import { isAble } from '../question/abilities.ts'
import type { SourceDescription } from '../question/source-description.ts'
import type { LineReader, RowSource } from '../source/row-source.ts'
import { summaryShower } from '../summary/show-summary.ts'
import type { SceneLine, SceneShows } from './scene.ts'

/** Lines that a scene holds: what a reader sees without scrolling. */
const SCENE_LINES = 12

/** What is asked of whom. */
export interface Staged {
  readonly source: RowSource
  /** As the source described itself when it was opened. */
  readonly description: Pick<SourceDescription, 'fields' | 'can'>
  readonly definition: Definition
  /** Milliseconds since 1970; default: the present. */
  readonly now?: number
}

/** What an arrangement shows. The rows are asked for apart: nothing that is on screen changes. Cost: one view and its summaries. */
export async function showsOf(
  { source, description, definition, now = Date.now() }: Staged,
  arrangement: Arrangement,
): Promise<SceneShows> {
  const { where, groups, summaries } = arrangement
  const binding = bindingOf(definition, now, where, groups, summaries)
  const request = requestOf(definition, arrangement, now, binding)
  const { start, middle, end } = shownColumns(arrangement)
  const columns = [...start, ...middle, ...end]
  const view = await source.view(request)
  try {
    const fields = new Map([...description.fields, ...view.fields].map(field => [field.key, field]))
    const there = columns.filter(column => fields.has(column))
    const lines = await firstLines(view.lines, there)
    const of = Object.entries(summaries).map(([column, summary]) => ({ column, summary }))
    const canSum = of.length > 0 && isAble(description.can.questions, 'summarize')
    const told = canSum ? await source.ask('summarize', { request, of }) : []
    const texts = told.flatMap(({ column, summary, all }) => {
      const field = fields.get(column)
      const isNothing = all === null || (typeof all === 'number' && Number.isNaN(all))
      if (!field || isNothing) return []
      return [[column, summaryShower(summary, field, binding.formats[column])(all)] as const]
    })
    const { total, passing, groups: counted } = view.report
    return {
      rows: total,
      passing,
      groups: [...counted],
      columns,
      lines,
      summaries: Object.fromEntries(texts),
    }
  } finally {
    view.close()
  }
}

/** The first lines as they are written. Of rows elsewhere, they are waited for. */
async function firstLines(lines: LineReader, columns: readonly string[]): Promise<SceneLine[]> {
  const end = Math.min(SCENE_LINES, lines.lineCount)
  if (end === 0) return []
  for (;;) {
    const arrived = new Promise<void>(resolve => {
      const stop = lines.onArrive(() => {
        stop()
        resolve()
      })
    })
    const read = Array.from({ length: end }, (_, at) => lineAt(lines, at, columns))
    if (read.every(line => line !== undefined)) return read
    lines.want(0, end, columns)
    await arrived
  }
}

function lineAt(lines: LineReader, at: number, columns: readonly string[]): SceneLine | undefined {
  const line: Line | undefined = lines.line(at)
  if (line === undefined) return undefined
  if (line.kind === 'head') return { group: line.shown, level: line.level, rows: line.count }
  if (line.kind === 'foot') return { group: line.shown, level: line.level, rows: line.count, end: true }
  const texts = columns.map(column => lines.text(at, line.row, column))
  if (texts.includes(undefined)) return undefined
  return { row: Object.fromEntries(columns.map((column, nth) => [column, texts[nth] ?? ''])) }
}
