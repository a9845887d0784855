import { isAble } from '@vast-meadow/engine/client'
import type { OrderKey } from '@vast-meadow/engine'
import { isOwnColumn } from '../../band/geometry.ts'
import type { Feature, MenuEntry } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** Headings order rows: a click or Enter, with Shift beside the keys there are. Ranks stand in the headings. */
export function order({ model, screen, announcer, emitter, texts }: Kernel): Feature {
  const by = (column: string, adding: boolean): boolean => {
    if (isOwnColumn(column)) return false
    model.orderBy(column, adding)
    emitter.emit('column', { column })
    return true
  }
  function headingMenu(column: string): MenuEntry[] {
    if (!model.canOrder(column)) return []
    const { order } = model.arrangement
    const now = order.find(key => key.column === column)?.direction
    const set = (direction: OrderKey['direction'] | null): void =>
      void model.apply(
        { order: direction === null ? order.filter(key => key.column !== column) : [{ column, direction }] },
        'reader',
      )
    return [
      ...(['ascending', 'descending'] as const)
        .filter(direction => direction !== now)
        .map(direction => ({ text: texts.orderThisWay[direction], rank: -1, act: () => set(direction) })),
      ...(now ? [{ text: texts.orderNoMore, rank: -1, act: () => set(null) }] : []),
    ]
  }
  return {
    name: 'order',
    headingMenu,
    refresh() {
      const { description } = model
      screen.header.setOrder(model.arrangement.order, !description || isAble(description.can.order))
    },
    arranged(_, change) {
      if (!change.order) return
      const keys = change.order.map(key => `${model.titleOf(key.column)} ${texts[key.direction]}`)
      announcer.say(keys.length > 0 ? texts.orderedBy(keys.join(', ')) : texts.notOrdered)
    },
    key: (event, { line, column }) => line === -1 && event.key === 'Enter' && by(column, event.shiftKey),
    click: (event, { line, column }) => line === -1 && by(column, event.shiftKey),
  }
}
