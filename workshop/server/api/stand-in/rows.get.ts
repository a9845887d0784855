const SITES = ['Lower Ings', 'Withy Bed', 'Long Mead', 'Church Field', 'Sallow Carr']
const STATES = ['seen', 'confirmed', 'doubtful', 'withdrawn']
const TOTAL = 2000
const MOST_LATENCY_MS = 10_000

/** A number between 0 and 1 that hangs on the row alone. */
function chance(row: number, stream: number): number {
  let mixed = Math.imul(row + 1, 0x9e3779b1) ^ Math.imul(stream + 1, 0x85ebca6b)
  mixed = Math.imul(mixed ^ (mixed >>> 15), 0x2c1b3c6d)
  return ((mixed ^ (mixed >>> 13)) >>> 0) / 2 ** 32
}

const rowOf = (row: number) => ({
  id: row + 1,
  site: { name: SITES[Math.floor(chance(row, 1) * SITES.length)], plot: 1 + Math.floor(chance(row, 2) * 30) },
  seen_on: new Date(1.7e12 + Math.floor(chance(row, 3) * 400) * 864e5).toISOString().slice(0, 10),
  cover: Math.round(chance(row, 4) * 10_000) / 100,
  state: chance(row, 5) < 0.03 ? null : STATES[Math.floor(chance(row, 6) * STATES.length)],
  tags: ['wet', 'grazed', 'shaded'].filter((_, nth) => chance(row, 7 + nth) < 0.3),
})

const whole = (text: unknown, fallback: number, most: number): number => {
  const number = Number(text)
  return Number.isInteger(number) && number >= 0 ? Math.min(number, most) : fallback
}

/**
 * A service to try with: made-up rows in an envelope, the total elsewhere. `page` and `size` ask for a part, `latency`
 * (ms) makes it slow, `state` asks for rows of one state alone, `fail` (a share of 100) lets it fail.
 */
export default defineEventHandler(async event => {
  const query = getQuery(event)
  const size = whole(query.size, TOTAL, TOTAL)
  const page = whole(query.page, 0, TOTAL)
  const latency = whole(query.latency, 0, MOST_LATENCY_MS)
  if (latency > 0) await new Promise(resolve => setTimeout(resolve, latency))
  if (Math.random() * 100 < whole(query.fail, 0, 100)) {
    setResponseStatus(event, 503)
    return { error: 'The service is out of breath, as was asked.' }
  }
  const from = Math.min(TOTAL, page * size)
  const { state } = query
  if (typeof state === 'string') {
    const passing = Array.from({ length: TOTAL }, (_, row) => rowOf(row)).filter(row => row.state === state)
    const rows = passing.slice(from, from + size)
    return { took: latency, result: { page, size, rows }, counts: { total: passing.length } }
  }
  const rows = Array.from({ length: Math.min(size, TOTAL - from) }, (_, i) => rowOf(from + i))
  return { took: latency, result: { page, size, rows }, counts: { total: TOTAL } }
})
