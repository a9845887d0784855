/** Of a column that says nothing of it, in CSS px. */
export const DEFAULT_COLUMN_WIDTH = 140
const CHARACTER_PX = 7.4
const CELL_PADDING_PX = 24
const LEAST_WIDTH = 64
const MOST_WIDTH = 320

/** CSS px that a text takes in a cell, by its length: near enough for a starting width. */
export const textWidth = (text: string): number => text.length * CHARACTER_PX + CELL_PADDING_PX

/** A width in which all the texts can be read, within what is sensible for a column. */
export const widthFor = (texts: readonly string[]): number =>
  Math.max(LEAST_WIDTH, Math.min(MOST_WIDTH, Math.round(Math.max(0, ...texts.map(textWidth)))))
