import { spanOf } from '@vast-meadow/engine/client'
import type { GridModel } from '../../kernel/grid-model.ts'

/** The number that an end of a range stands for in a column; null where it is none. `upper`: the last one meant. */
export function numberOfEnd(
  model: GridModel,
  column: string,
  end: string | number | undefined,
  upper: boolean,
): number | null {
  const field = model.fieldOf(column)
  if (end === undefined || !field) return null
  const span = spanOf(end, { field, clock: { now: 0, zone: model.definition?.zone } })
  return span && Number(upper ? span.to : span.from)
}
