import { isRecord } from '@vast-meadow/engine/client'
import type { ListingOrigin } from '~/storage/saved-grid'

/** How deep in an answer lists and totals are looked for. */
const MOST_DEPTH = 4
/** Names of totals, the surest first. */
const TOTALS = [/^total/i, /^(count|found|hits)$/i]
const KEY = /^(id|_id|key|uuid|guid|number|nr|code)$/i
/** Names that such services give to the parameters of a part. */
const FROM = ['offset', 'skip', 'start', 'from']
const SIZE = ['limit', 'take', 'size', 'per_page', 'perPage', 'page_size', 'pageSize', 'rows']
const NUMBER = ['page', 'pageNumber', 'page_number', 'p']
const PART = 100

interface Found {
  readonly pointer: string
  readonly value: unknown
}

/** Everything of an answer but what stands in lists, with the JSON Pointer that leads to it. */
function* placesIn(value: unknown, pointer = '', depth = 0): Generator<Found> {
  yield { pointer, value }
  if (!isRecord(value) || depth >= MOST_DEPTH) return
  for (const [name, inner] of Object.entries(value))
    yield* placesIn(inner, `${pointer}/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`, depth + 1)
}

const lastOf = (pointer: string): string => pointer.slice(pointer.lastIndexOf('/') + 1)

/** What an answer of a service that lists rows looks like: to be looked at and put right. */
export function guessListing(given: string, body: unknown): ListingOrigin {
  const places = [...placesIn(body)]
  const lists = places.flatMap(({ pointer, value }) =>
    Array.isArray(value) && value.some(isRecord) ? [{ pointer, rows: value.filter(isRecord) }] : [],
  )
  const list = lists.sort((a, b) => b.rows.length - a.rows.length)[0]
  const least = list?.rows.length ?? 0
  const counts = places.filter(({ value }) => typeof value === 'number' && value >= least)
  const total = TOTALS.flatMap(names => counts.find(({ pointer }) => names.test(lastOf(pointer))) ?? [])[0]
  const [first = {}] = list?.rows ?? []
  const names = Object.keys(first)
  const [address = '', query = ''] = given.split('?')
  const params = new URLSearchParams(query)
  const takeOut = (known: readonly string[]): string | undefined => {
    const name = known.find(one => params.has(one))
    if (name !== undefined) params.delete(name)
    return name
  }
  const size = Number(SIZE.map(name => params.get(name)).find(value => Number(value) > 0) ?? PART)
  const isFirst = NUMBER.some(name => params.get(name) === '0')
  const number = takeOut(NUMBER)
  const [from, sized] = [takeOut(FROM), takeOut(SIZE)]
  const rest = params.toString()
  return {
    kind: 'listing',
    address: rest === '' ? address : `${address}?${rest}`,
    key: names.find(name => KEY.test(name)) ?? names[0] ?? 'id',
    rows: list?.pointer ?? '',
    ...(total ? { total: total.pointer } : {}),
    page:
      number === undefined
        ? { from: from ?? 'offset', size: sized ?? 'limit', most: size }
        : {
            number,
            rows: size,
            ...(isFirst ? { first: 0 as const } : {}),
            ...(sized === undefined ? {} : { size: sized }),
          },
  }
}
