import type { Keep } from '@vast-meadow/engine'

/** The least size that groups are asked for; null: none. */
export function leastOf(keep: Keep | undefined): number | null {
  for (const { of, condition } of keep?.where ?? [])
    for (const part of condition.parts)
      if (of === 'size' && part.kind === 'at-least' && typeof part.value === 'number') return part.value
  return null
}
