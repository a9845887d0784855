import { CancelledError } from '@vast-meadow/engine/client'
import type { LineIndex, RowId, Value } from '@vast-meadow/engine'
import type { CellBox } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** Lines that are read in one go. */
const LINES_A_READ = 2000

/** A row and what some of its columns have, pending or saved. */
export interface TargetRow {
  readonly id: RowId
  readonly values: ReadonlyMap<string, Value>
}

/** A view may give way to a newer one while its lines are read; they are read again in that one, so often. */
const MOST_TRIES = 5

/** The rows on some lines of the view and what they have; heads of groups are passed over. */
export async function rowsOnLines(
  kernel: Kernel,
  from: LineIndex,
  to: LineIndex,
  columns: readonly string[],
): Promise<TargetRow[]> {
  for (let tries = 1; ; tries++) {
    await kernel.settled()
    try {
      return await readLines(kernel, from, to, columns)
    } catch (error) {
      if (!(error instanceof CancelledError) || tries === MOST_TRIES) throw error
    }
  }
}

async function readLines(
  { model, view }: Kernel,
  from: LineIndex,
  to: LineIndex,
  columns: readonly string[],
): Promise<TargetRow[]> {
  const rows: TargetRow[] = []
  if (!view) return rows
  for (let start: number = from; start < to; start += LINES_A_READ) {
    const end = Math.min(to, start + LINES_A_READ)
    const block = await model.ask('cells', { view: view.id, from: start, to: end, columns })
    for (const [nth, line] of (block?.lines ?? []).entries()) {
      if (line.kind !== 'row' || !block) continue
      const at = nth * columns.length
      rows.push({ id: line.row, values: new Map(columns.map((column, i) => [column, block.values[at + i]])) })
    }
  }
  return rows
}

/** The rows of rectangles and in which of the columns each is picked. */
export async function rowsInBoxes(
  kernel: Kernel,
  boxes: readonly CellBox[],
): Promise<{ readonly row: TargetRow; readonly columns: readonly string[] }[]> {
  const targets: { row: TargetRow; columns: readonly string[] }[] = []
  for (const { from, to, columns } of boxes)
    for (const row of await rowsOnLines(kernel, from, to, columns)) targets.push({ row, columns })
  return targets
}
