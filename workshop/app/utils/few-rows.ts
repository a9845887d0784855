/** More than a page should fetch to answer for them by itself. */
const MOST = 1_000_000

/** How many rows a page fetches at most, as it is written into a field; undefined: as many as where nothing is said. */
export const fewRows = (given: string): number | undefined =>
  given.trim() === '' ? undefined : Math.max(0, Math.min(MOST, Math.floor(Number(given)) || 0))
