import { shownCellWidth } from '@vast-meadow/engine/client'
import type { Kernel } from '../../kernel/kernel.ts'

/** Texts that are measured. */
const MEASURED = 24
/** No column is made wider than this by what it holds, in CSS px; the definition may say otherwise. */
const MOST_PX = 640
/** What stands beside a title: its padding, its rank, and what opens its card. */
const BESIDE_TITLE_PX = 58

/** CSS px in which a column's title and what its cells show over all rows can be read; null: nobody knows what they hold. */
export async function fittingWidth(column: string, { model, frame }: Kernel): Promise<number | null> {
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

/** Measures texts in a font; null where nothing can be measured. */
function measuring(document: Document, font: string): ((text: string) => number) | null {
  const context = document.createElement('canvas').getContext('2d')
  if (!context) return null
  context.font = font
  return text => context.measureText(text).width
}
