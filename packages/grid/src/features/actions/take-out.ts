import type { KeyValue, RowRecord } from '@vast-meadow/engine'
import type { Kernel } from '../../kernel/kernel.ts'
import type { ActionDone } from '../../painter.ts'
import { doneOf } from './action-runner.ts'

/**
 * Takes rows out of the grid's own once the host has done its part. Undone, the host undoes its part first, and the rows
 * are put back; where it has a part that it cannot undo, nothing is. `records`: the rows as they were; null: there are too
 * many to be put back. `hostsPart`: what the host's handler answered; null: it has none.
 */
export async function takeOut(
  { changes, texts, format }: Kernel,
  keys: readonly KeyValue[],
  records: readonly RowRecord[] | null,
  hostsPart: { readonly answer: unknown } | null,
): Promise<ActionDone> {
  const done = hostsPart && doneOf(await hostsPart.answer)
  await changes.commit({ remove: keys }, true)
  const text = done?.text ?? texts.takenOut(format(keys.length), keys.length)
  if (!records || (hostsPart && !done?.undo)) return { text }
  return {
    text,
    async undo() {
      await done?.undo?.()
      const { restored } = await changes.commit({ restore: keys }, true)
      // Rows that are elsewhere, or whose room was given to others, come back behind the rest.
      if (restored < keys.length) await changes.commit({ put: records }, true)
    },
  }
}
