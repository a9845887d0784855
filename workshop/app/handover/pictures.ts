import type { Definition, RowSource, ViewRequest } from '@vast-meadow/engine'

/** No zip has more. */
const MOST_PICTURES = 500
const PICTURE = /\.(svg|png|jpe?g|webp|gif|avif)$/i

/** A picture that a cell shows, and lies with the workshop itself. */
export interface HandedPicture {
  /** Where it stands beside the page. */
  readonly path: string
  readonly bytes: Uint8Array
}

/**
 * The pictures that cells show by addresses of this very site: the page that is handed over would not find them. `site`: the
 * address of the workshop.
 */
export async function picturesOf(
  source: RowSource,
  request: ViewRequest,
  { columns }: Pick<Definition, 'columns'>,
  site: string,
): Promise<readonly HandedPicture[]> {
  const asked = columns.filter(({ cell }) => cell.kind === 'picture')
  const addresses = new Set<string>()
  for (const { key } of asked) {
    const { values } = await source.ask('facets', { request, column: key, limit: MOST_PICTURES })
    for (const { value } of values) {
      const path = pathWithin(String(value), site)
      if (path !== null) addresses.add(path)
    }
  }
  const found = await Promise.all([...addresses].slice(0, MOST_PICTURES).map(fetched))
  return found.filter(picture => picture !== null)
}

/** The path of a picture on the site itself; null: it is elsewhere, and found from anywhere, or is no picture. */
export function pathWithin(address: string, site: string): string | null {
  // Others say by themselves where they are.
  if (!address.startsWith('/') || address.startsWith('//') || !URL.canParse(address, site)) return null
  const { origin, pathname } = new URL(address, site)
  return origin === new URL(site).origin && PICTURE.test(pathname) ? decodeURI(pathname) : null
}

async function fetched(path: string): Promise<HandedPicture | null> {
  const answer = await fetch(path).catch(() => null)
  // What cannot be had is not there for the grid here either.
  if (!answer?.ok || !answer.headers.get('content-type')?.startsWith('image/')) return null
  return { path: path.slice(1), bytes: new Uint8Array(await answer.arrayBuffer()) }
}
