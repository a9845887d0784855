import { hasLayout } from '../../kernel/simulated-dom.ts'
import { fitToRoom, shownCellWidth, sure } from '@vast-meadow/engine/client'
import type { Kernel } from '../../kernel/kernel.ts'

/** Texts that are measured. */
const MEASURED = 24
/** No column is made wider than this by what it holds, in CSS px; the definition may say otherwise. */
const MOST_PX = 640
/** What stands beside a title: its padding, its rank, and what opens its card. */
const BESIDE_TITLE_PX = 58
/** Columns that are asked about at once. */
const AT_ONCE = 8

/** By column: the CSS px in which its title and what its cells show over all rows can be read. */
export async function fittingWidths(
  columns: readonly string[],
  kernel: Kernel,
): Promise<Record<string, number>> {
  const widths: Record<string, number> = {}
  const left = [...columns]
  const next = async (): Promise<void> => {
    for (let column = left.shift(); column !== undefined; column = left.shift()) {
      const width = await fittingWidth(column, kernel)
      if (width !== null) widths[column] = width
    }
  }
  await Promise.all(Array.from({ length: AT_ONCE }, next))
  return widths
}

/** null: nobody knows what the column holds. */
async function fittingWidth(column: string, { model, frame }: Kernel): Promise<number | null> {
  if (!model.canTell('longestTexts')) return null
  const request = model.requestFor(model.arrangement.groups)
  const texts = await model.ask('longestTexts', { request, column, count: MEASURED })
  // `font` is empty where figures are as wide as one another.
  const { fontWeight, fontFamily, fontSize } = getComputedStyle(frame)
  const widthOf = measuring(frame.ownerDocument, `${fontWeight} ${fontSize} ${fontFamily}`)
  const titleWidth = measuring(frame.ownerDocument, `600 ${fontSize} ${fontFamily}`)
  if (!texts || !widthOf || !titleWidth) return null
  const { cell = { kind: 'text' as const }, maxWidth = MOST_PX } = model.columnOf(column) ?? {}
  const widths = texts.map(text => shownCellWidth(cell, text, widthOf))
  const title = titleWidth(model.titleOf(column)) + BESIDE_TITLE_PX
  return model.widthWithin(column, Math.min(maxWidth, Math.ceil(Math.max(title, ...widths))))
}

/** By column: the width in which all of them fill the room that there is. */
export function roomWidths(columns: readonly string[], { model, screen }: Kernel): Record<string, number> {
  const room = screen.viewport.width - screen.geometry.ownWidth
  const widths = fitToRoom(
    columns.map(column => ({
      width: screen.widthOf(column),
      least: model.widthWithin(column, 0),
      most: model.widthWithin(column, Infinity),
    })),
    room,
  )
  return Object.fromEntries(columns.map((column, i) => [column, sure(widths[i])]))
}

/** Measures texts in a font; null where nothing can be measured. */
function measuring(document: Document, font: string): ((text: string) => number) | null {
  const context = hasLayout(document) ? document.createElement('canvas').getContext('2d') : null
  if (!context) return null
  context.font = font
  return text => context.measureText(text).width
}
