/** Heights of rows by the definition's density, in CSS px. */
export const ROW_HEIGHTS = { compact: 26, normal: 31, roomy: 40 } as const
export const HEADER_HEIGHT = 33
export const STRIP_HEIGHT = 29
/** A finger can hit 44 CSS px; one more is the rule below. */
export const TOUCH_HEIGHT = 45
/** The line of all rows: a summary's name stands over it. */
export const TOTALS_HEIGHT = 35
