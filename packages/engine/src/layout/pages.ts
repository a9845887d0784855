/** Which lines a page holds, and how many pages there are. */
export interface PageSpan {
  /** From 0; within what pages there are. */
  readonly page: number
  readonly pages: number
  readonly from: number
  /** Past the last line. */
  readonly to: number
}

/** The span of a page of `size` lines; a page beyond the last is the last. There is always one page. */
export function pageSpan(lineCount: number, size: number, page: number): PageSpan {
  const pages = Math.max(1, Math.ceil(lineCount / size))
  const within = Math.max(0, Math.min(page, pages - 1))
  return { page: within, pages, from: within * size, to: Math.min(lineCount, (within + 1) * size) }
}
