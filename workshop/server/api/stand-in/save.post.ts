import { z } from 'zod'

const MOST_LATENCY_MS = 10_000
const key = z.union([z.string(), z.number(), z.boolean(), z.null(), z.array(z.unknown())])
const asked = z.object({
  changed: z.array(z.object({ key, after: z.record(z.string(), z.unknown()) })),
  added: z.array(z.object({ name: z.string(), values: z.record(z.string(), z.unknown()) })),
  removed: z.array(z.object({ key })),
})

/** The next key that a new row gets; the service forgets it when it is started anew. */
let nextKey = 1

/**
 * A service to try saving with: it keeps nothing, and answers as `how` says. `takes` all; `refuses` every second row;
 * `quicker`: another has changed each row a moment before; `down`: it does not answer at all. `latency`, in ms, makes
 * it slow; `keyField` is where a new row's key goes.
 */
export default defineEventHandler(async event => {
  const { how = 'takes', latency = '0', keyField = 'id' } = getQuery<Record<string, string>>(event)
  const read = asked.safeParse(await readBody<unknown>(event))
  if (!read.success) {
    setResponseStatus(event, 400)
    return { error: read.error.issues[0]?.message ?? 'These are no changes.' }
  }
  const wait = Math.min(MOST_LATENCY_MS, Math.max(0, Number(latency) || 0))
  if (wait > 0) await new Promise(resolve => setTimeout(resolve, wait))
  if (how === 'down') {
    setResponseStatus(event, 503)
    return { error: 'The service is down, as was asked.' }
  }
  const { changed, added, removed } = read.data
  const refused = 'Refused, as was asked: every second row.'
  const rows = [
    ...changed.map(({ key, after }, nth) => {
      if (how === 'refuses' && nth % 2 === 0)
        return { key, refused, fields: Object.fromEntries(Object.keys(after).map(field => [field, refused])) }
      return how === 'quicker' ? { key, there: theirs(after) } : { key, saved: true }
    }),
    ...added.map(({ name }, nth) => {
      if (how === 'refuses' && nth % 2 === 0) return { name, refused }
      const made = `NEW-${String(nextKey++).padStart(4, '0')}`
      return { name, key: made, saved: { [keyField]: made } }
    }),
    ...removed.map(({ key }, nth) =>
      how === 'refuses' && nth % 2 === 0 ? { key, refused } : { key, saved: true },
    ),
  ]
  return { rows }
})

/** What another wrote in the same cells: a little more, or a word behind. */
function theirs(after: Readonly<Record<string, unknown>>): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(after).map(([field, value]) => {
      if (typeof value === 'number') return [field, value + 1]
      if (typeof value === 'boolean') return [field, !value]
      return [field, typeof value === 'string' && !/^\d/.test(value) ? `${value} (theirs)` : value]
    }),
  )
}
