/** A map stands beside the scrollbar from so many views' worth of rows on. */
const LEAST_VIEWS = 3
/** CSS px. */
const [WIDTH, TOUCH_WIDTH] = [14, 32]

/**
 * CSS px that the length map takes beside the scrollbar; 0: there is so little to travel over that it is of no use.
 * `total`: px of all rows, also of those that conditions hold back; `view`: px of those in view.
 */
export function mapWidth(total: number, view: number, touched: boolean): number {
  if (total === 0 || total / Math.max(1, view) < (touched ? 1 : LEAST_VIEWS)) return 0
  return touched ? TOUCH_WIDTH : WIDTH
}
