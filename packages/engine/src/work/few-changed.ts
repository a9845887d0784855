/** Tables up to so many rows are soon gone through, whatever changed. */
const SMALL = 4096
const MOST_CHANGED = 1 / 8

/** Whether so few of a table's rows changed that these are looked at one by one, rather than all rows again. */
export const isFew = (changed: number, rows: number): boolean =>
  rows <= SMALL || changed <= rows * MOST_CHANGED
