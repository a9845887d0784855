import type { Brand } from '@vast-meadow/engine'

/** A line among those that can be scrolled over: those of the view, or of one page of it. */
export type PageLine = Brand<number, 'PageLine'>

export const asPageLine = (line: number): PageLine => line as PageLine

/** Above all lines: the header, or none. */
export const ABOVE_LINES = asPageLine(-1)
