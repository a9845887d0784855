/** Zones change their offset on quarter hours at the finest. */
const QUARTER_MS = 900_000
const MOST_REMEMBERED = 65_536

export type ZoneOffset = (ms: number) => number

const zones = new Map<string, ZoneOffset | null>()

/** Milliseconds by which a zone's clocks are ahead of UTC at an instant; null for a zone nobody knows. */
export function zoneOffset(zone: string): ZoneOffset | null {
  let offset = zones.get(zone)
  if (offset === undefined) {
    offset = makeOffset(zone)
    zones.set(zone, offset)
  }
  return offset
}

function makeOffset(zone: string): ZoneOffset | null {
  let format: Intl.DateTimeFormat
  try {
    format = new Intl.DateTimeFormat('en-US', {
      timeZone: zone,
      hourCycle: 'h23',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
      era: 'short',
    })
  } catch {
    return null
  }
  const known = new Map<number, number>()
  return ms => {
    const quarter = Math.floor(ms / QUARTER_MS)
    let offset = known.get(quarter)
    if (offset === undefined) {
      offset = wallTime(format, quarter * QUARTER_MS) - quarter * QUARTER_MS
      if (known.size > MOST_REMEMBERED) known.clear()
      known.set(quarter, offset)
    }
    return offset
  }
}

function wallTime(format: Intl.DateTimeFormat, ms: number): number {
  const parts = Object.fromEntries(format.formatToParts(ms).map(({ type, value }) => [type, value]))
  const year = parts.era === 'BC' ? 1 - Number(parts.year) : Number(parts.year)
  const at = new Date(0)
  at.setUTCFullYear(year, Number(parts.month) - 1, Number(parts.day))
  at.setUTCHours(Number(parts.hour), Number(parts.minute), Number(parts.second))
  return Math.round(at.getTime() / 1000) * 1000
}
