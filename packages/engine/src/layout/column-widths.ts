/** What a column wants of the room. */
export interface WantedWidth {
  /** In CSS px; of a column that takes a share, the least that it has. */
  readonly width: number
  /** What part of the room that is left it takes beside others that take some; 0: none. */
  readonly share: number
  /** What it never is wider than. */
  readonly most: number
}

/**
 * The widths of columns side by side, in whole CSS px. What is left of the room goes to those that take a share, in
 * proportion, none beyond its most; what one cannot take goes to the others. Where nothing is left all have their width.
 * Linear in the columns, for each time that one has its most.
 */
export function columnWidths(wanted: readonly WantedWidth[], room: number): number[] {
  const widths = wanted.map(({ width }) => width)
  let left = Math.floor(room - widths.reduce((sum, width) => sum + width, 0))
  let taking = [...wanted.keys()].filter(i => wanted[i].share > 0 && wanted[i].most > widths[i])
  while (left > 0 && taking.length > 0) {
    const shares = taking.reduce((sum, i) => sum + wanted[i].share, 0)
    const full = taking.filter(i => widths[i] + (left * wanted[i].share) / shares >= wanted[i].most)
    if (full.length === 0) {
      spread(widths, taking, wanted, left, shares)
      return widths
    }
    // Those that have enough are served first, so that the others share what they leave.
    for (const i of full) {
      left -= wanted[i].most - widths[i]
      widths[i] = wanted[i].most
    }
    taking = taking.filter(i => !full.includes(i))
  }
  return widths
}

/** Whole px in proportion: rounding one up is made up for by the next. */
function spread(
  widths: number[],
  taking: readonly number[],
  wanted: readonly WantedWidth[],
  left: number,
  shares: number,
): void {
  let [exact, given] = [0, 0]
  for (const i of taking) {
    exact += (left * wanted[i].share) / shares
    const px = Math.min(Math.round(exact) - given, Math.floor(wanted[i].most - widths[i]))
    widths[i] += px
    given += px
  }
}
