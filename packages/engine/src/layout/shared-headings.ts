/** A heading over neighbouring columns of a run, on one level; level 0 is the outermost. */
export interface HeadingSpan {
  readonly heading: string
  /** Index in the run of its first column, and past its last. */
  readonly first: number
  readonly end: number
}

/**
 * By level, what stands over the columns of a run: one span for neighbours that are under the same heading there and on
 * all levels above. Where columns of a heading are parted, it stands again over each part. Linear in the columns.
 * `pathOf`: the headings that a column is under, the outermost first.
 */
export function headingSpans(
  columns: readonly string[],
  pathOf: (column: string) => readonly string[],
): HeadingSpan[][] {
  const levels: { heading: string; first: number; end: number }[][] = []
  let before: readonly string[] = []
  columns.forEach((column, i) => {
    const path = pathOf(column)
    let joined = true
    path.forEach((heading, level) => {
      joined &&= before[level] === heading
      const spans = (levels[level] ??= [])
      const last = spans.at(-1)
      if (joined && last) last.end = i + 1
      else spans.push({ heading, first: i, end: i + 1 })
    })
    before = path
  })
  return levels
}
