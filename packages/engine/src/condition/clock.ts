import { DAY_MS } from '../table/calendar.ts'
import { zoneOffset } from '../table/zone.ts'

/** What “today” is reckoned by. */
export interface Clock {
  /** Milliseconds since 1970, UTC. */
  readonly now: number
  /** IANA name of the zone whose days are meant; default UTC. */
  readonly zone?: string
}

/** For what does not hang on the day: amounts that name their time themselves. */
export const ANY_CLOCK: Clock = { now: 0 }

/** The number of the day that it is by the clock, counted from 1970-01-01. */
export function today({ now, zone }: Clock): number {
  const offset = zone ? zoneOffset(zone) : null
  return Math.floor((now + (offset ? offset(now) : 0)) / DAY_MS)
}

/** The instant at which the zone's clocks show a wall time; of two such instants the earlier one. */
export function instantOf(wall: number, zone: string | undefined): number {
  const offset = zone ? zoneOffset(zone) : null
  if (!offset) return wall
  const [early, late] = [wall - offset(wall - DAY_MS), wall - offset(wall + DAY_MS)]
  // Where clocks are put forward the wall time is never shown; then it counts from before the change.
  const fits = [early, late].filter(at => at + offset(at) === wall)
  return fits.length > 0 ? Math.min(...fits) : early
}
