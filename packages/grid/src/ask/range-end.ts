import { daysOf, momentsOf } from '@vast-meadow/engine'
import type { GridModel } from '../control/grid-model.ts'

/** The number that an end of a range stands for in a column; null where it is none. `upper`: the last one meant. */
export function numberOfEnd(
  model: GridModel,
  column: string,
  end: string | number | undefined,
  upper: boolean,
): number | null {
  if (end === undefined || typeof end === 'number') return end ?? null
  const field = model.fieldOf(column)
  const span =
    field?.type === 'date'
      ? daysOf(end)
      : field?.type === 'datetime'
        ? momentsOf(end, field.zoned ?? false, model.definition?.zone)
        : null
  if (span) return upper ? span.to : span.from
  const number = Number(end)
  return Number.isNaN(number) ? null : number
}
