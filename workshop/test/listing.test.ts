import { describe, expect, it } from 'vitest'
import { guessListing } from '../app/service/guess-listing'

const rows = [
  { site: 'a', id: 7 },
  { site: 'b', id: 8 },
]

describe('how a service lists rows, guessed from an answer', () => {
  it('finds list, total and key where they mostly are', () => {
    const body = {
      took: 3,
      result: { page: 0, count: 100, rows },
      counts: { total: 2000 },
      filters: [{ name: 'x' }],
    }
    expect(guessListing('/api/rows?latency=0&page=0&size=100', body)).toEqual({
      kind: 'listing',
      address: '/api/rows?latency=0',
      key: 'id',
      rows: '/result/rows',
      total: '/counts/total',
      page: { number: 'page', rows: 100, first: 0, size: 'size' },
    })
  })

  it('takes the parameters for a part from the address', () => {
    expect(guessListing('https://x.test/plots?offset=40&limit=20', rows)).toMatchObject({
      address: 'https://x.test/plots',
      rows: '',
      page: { from: 'offset', size: 'limit', most: 20 },
    })
    expect(guessListing('https://x.test/plots?skip=0&take=5&q=a', { data: rows })).toMatchObject({
      address: 'https://x.test/plots?q=a',
      rows: '/data',
      page: { from: 'skip', size: 'take', most: 5 },
    })
    expect(guessListing('/plots', { data: rows }).page).toEqual({ from: 'offset', size: 'limit', most: 100 })
  })

  it('takes no number for the total that is less than what is listed, and no list of anything but rows', () => {
    const body = { tags: ['a', 'b', 'c'], 'a/b': { items: rows }, count: 1, meta: { totalItems: 2 } }
    expect(guessListing('/plots', body)).toMatchObject({ rows: '/a~1b/items', total: '/meta/totalItems' })
    expect(guessListing('/plots', { nothing: true })).toMatchObject({ rows: '', key: 'id' })
    expect(guessListing('/plots', [{ who: 1 }])).toMatchObject({ key: 'who' })
  })
})
