import { isRecord, readArrangement } from '@vast-meadow/engine/client'
import type { Arrangement, ArrangementProblem } from '@vast-meadow/engine'
import { plainJson } from '../../kernel/plain-json.ts'
import type { NamedArrangement } from '../../kernel/options.ts'

/** Arrangements by name that are read at most, and the characters of a name. */
export const MOST_NAMED = 200
export const MOST_NAME = 80

/** What a store held, as far as it can be read. */
export interface ReadKept {
  /** null: nothing was arranged, or it cannot be read. */
  readonly now: Partial<Arrangement> | null
  readonly named: readonly NamedArrangement[]
  readonly first: string | null
  readonly problems: readonly ArrangementProblem[]
}

/** Reads what a store held; what cannot be read of it is told and left out, and costs nothing else. */
export function readKept(given: unknown): ReadKept {
  if (given === null || given === undefined) return { now: null, named: [], first: null, problems: [] }
  const json = plainJson(given)
  if (!isRecord(json)) return { ...readNow(json), named: [], first: null }
  const { named, first, ...now } = json
  const names = new Set<string>()
  const read = (Array.isArray(named) ? named : []).slice(0, MOST_NAMED).flatMap((one: unknown) => {
    if (!isRecord(one) || typeof one.name !== 'string' || names.has(one.name)) return []
    const arrangement = readArrangement(one.arrangement, null)
    if (!arrangement.ok || one.name.length > MOST_NAME) return []
    names.add(one.name)
    return [{ name: one.name, arrangement: arrangement.arrangement }]
  })
  const begins = typeof first === 'string' && names.has(first) ? first : null
  const nothing = Object.keys(now).length === 0
  return { ...(nothing ? { now: null, problems: [] } : readNow(now)), named: read, first: begins }
}

function readNow(json: unknown): Pick<ReadKept, 'now' | 'problems'> {
  const read = readArrangement(json, null)
  return read.ok ? { now: read.arrangement, problems: [] } : { now: null, problems: read.problems }
}
