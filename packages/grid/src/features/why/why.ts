import type { KeyValue, Trace } from '@vast-meadow/engine'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** Of the grid's handle: why a row is where it is. */
export interface WhyHandle {
  /** What each stage says of the row with the key; null where there is none. */
  trace(key: KeyValue): Promise<Trace | null>
}

/** A reader asks from a cell why its row is there; the host answers, where it listens. */
export function why(kernel: Kernel): Feature {
  const { model, texts, emitter } = kernel
  const handle: WhyHandle = {
    async trace(key) {
      const { view } = kernel
      const [row = null] = (await model.ask('findRows', { keyFields: model.keyFields, keys: [key] })) ?? []
      if (row === null || !view) return null
      return (await model.ask('trace', { request: model.request(), view: view.id, row })) ?? null
    },
  }
  return {
    name: 'why',
    handle,
    cellMenu({ row }) {
      if (!emitter.has('why')) return []
      const act = async (): Promise<void> => {
        const asked = { keyFields: model.keyFields, rows: { kind: 'list' as const, rows: [row] } }
        const [key] = (await model.ask('keysOf', asked)) ?? []
        if (key !== undefined) emitter.emit('why', { row, key })
      }
      return [{ text: texts.whyHere, act: () => void act().catch(kernel.failed) }]
    },
  }
}
