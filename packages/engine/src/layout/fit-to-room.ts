/** How wide a column is, and may be, in CSS px. */
export interface RoomyWidth {
  readonly width: number
  readonly least: number
  readonly most: number
}

/**
 * Widths in whole px that fill a room, each in proportion to what it was and within its limits. Where the least that all
 * have is more than the room, or the most less, they have that. The rule by which CSS resolves flexible lengths: as long
 * as limits are broken, those on the side that is broken by more are held and the others share the rest.
 */
export function fitToRoom(columns: readonly RoomyWidth[], room: number): number[] {
  const held = new Map<number, number>()
  for (;;) {
    const free = columns.map((_, i) => i).filter(i => !held.has(i))
    const left = room - [...held.values()].reduce((sum, width) => sum + width, 0)
    const scale = left / free.reduce((sum, i) => sum + columns[i].width, 0)
    const wanted = free.map(i => {
      const { width, least, most } = columns[i]
      const exact = Math.max(0, width * scale)
      return { i, exact, clamped: Math.min(most, Math.max(least, exact)) }
    })
    const broken = wanted.reduce((sum, { exact, clamped }) => sum + clamped - exact, 0)
    const over = wanted.filter(({ exact, clamped }) => (broken >= 0 ? clamped > exact : clamped < exact))
    const all = wanted.every(({ exact, clamped }) => exact === clamped)
    if (all || over.length === 0) {
      for (const { i, clamped } of wanted) held.set(i, clamped)
      break
    }
    for (const { i, clamped } of over) held.set(i, clamped)
  }
  return inWholePx(columns.map((_, i) => held.get(i) ?? 0))
}

/** Rounding one up is made up for by the next. */
function inWholePx(widths: readonly number[]): number[] {
  let [exact, given] = [0, 0]
  return widths.map(width => {
    exact += width
    const px = Math.round(exact) - given
    given += px
    return px
  })
}
