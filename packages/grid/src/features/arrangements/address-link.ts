import { arrangementFromLink, arrangementToLink } from '@vast-meadow/engine/client'
import type { Arrangement, LinkResult } from '@vast-meadow/engine'

/** What stands behind the `#` of an address, as parameters. */
const parametersOf = (location: Location): URLSearchParams => new URLSearchParams(location.hash.slice(1))

/** The arrangement that the page's address holds under a name; null: none. */
export async function arrangementInAddress(name: string, location: Location): Promise<LinkResult | null> {
  const text = parametersOf(location).get(name)
  return text === null ? null : await arrangementFromLink(text)
}

/** The page's address with an arrangement in it; all else in it stays. */
export async function addressWith(
  name: string,
  location: Location,
  arrangement: Arrangement,
  start: Arrangement,
): Promise<string> {
  const parameters = parametersOf(location)
  parameters.set(name, await arrangementToLink(arrangement, start))
  const address = new URL(location.href)
  address.hash = parameters.toString()
  return address.href
}
