import type { Definition, RowSource, ViewRequest } from '@vast-meadow/engine'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { pathWithin, picturesOf } from '../app/handover/pictures'

const SITE = 'http://workshop.example'

/** A source whose columns hold these values. */
const holding = (values: Readonly<Record<string, readonly (string | null)[]>>): RowSource =>
  ({
    ask: (_: string, { column }: { column: string }) =>
      Promise.resolve({ values: values[column].map(value => ({ value })) }),
  }) as unknown as RowSource
const columns = [
  { key: 'photo', cell: { kind: 'picture' } },
  { key: 'note', cell: { kind: 'text' } },
] as unknown as Definition['columns']
const request = {} as ViewRequest

afterEach(() => vi.unstubAllGlobals())

describe('pictures that go along', () => {
  it('are those of the site itself', () => {
    expect(pathWithin('/seeds/seed-01.svg', SITE)).toBe('/seeds/seed-01.svg')
    expect(pathWithin('/a/../../b%20c.PNG?size=2#x', SITE)).toBe('/b c.PNG')
    for (const address of [
      'https://elsewhere.example/a.png',
      '//elsewhere.example/a.png',
      '/\\\\elsewhere.example/a.png',
      'a.png',
      'data:image/png;base64,AA==',
      '/api/rows',
      '/a.png/..',
      '',
      'null',
    ])
      expect(pathWithin(address, SITE), address).toBeNull()
  })

  it('are fetched once each; what is no picture, or not there, stays behind', async () => {
    const asked: string[] = []
    vi.stubGlobal('fetch', (path: string) => {
      asked.push(path)
      if (path.includes('offline')) return Promise.reject(new TypeError('offline'))
      const type = path.includes('page') ? 'text/html' : 'image/png'
      const status = path.includes('gone') ? 404 : 200
      return Promise.resolve(new Response(new Uint8Array([7]), { status, headers: { 'content-type': type } }))
    })
    const photo = ['/p/1.png', '/p/1.png?again', '/gone.png', '/page.png', '/offline.png', null, 'x.png']
    const found = await picturesOf(holding({ photo, note: ['/p/2.png'] }), request, { columns }, SITE)
    expect(found).toEqual([{ path: 'p/1.png', bytes: new Uint8Array([7]) }])
    expect(asked).toEqual(['/p/1.png', '/gone.png', '/page.png', '/offline.png'])
  })
})
