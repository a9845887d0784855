import { isRecord } from '@vast-meadow/engine/client'
import { words } from '~/words'

/** The address at which the page asks a service: what is not the workshop's own is reached through its server. */
export function addressToAsk(address: string): string {
  if (!/^https?:\/\//i.test(address)) return address
  const { protocol, host, pathname, search } = new URL(address)
  return `/api/far/${protocol.replace(':', '')}/${host}${pathname}`.replace(/\/+$/, '') + search
}

/** The names of the rows that a service holds, as its own list says. Throws with a sentence that says what is wrong. */
export async function rowsOfService(address: string): Promise<string[]> {
  const root = addressToAsk(address.replace(/\/+$/, ''))
  let answer: Response
  let body: unknown
  try {
    answer = await fetch(`${root}/`, { headers: { accept: 'application/json', 'odata-maxversion': '4.01' } })
    body = await answer.json().catch(() => null)
  } catch (error) {
    throw new Error(words.fetchAddress.theWorkshopsServerCouldNot, { cause: error })
  }
  const told = isRecord(body) && isRecord(body.error) ? body.error.message : null
  // Rows that are being made ready: the list comes when they are.
  if (answer.status === 202) throw new Error(words.serviceAddress.notReady(String(told ?? '')))
  if (!answer.ok)
    throw new Error(
      typeof told === 'string' && told ? told : words.fetchAddress.theServiceAnswersWithStatus(answer.status),
    )
  const listed = isRecord(body) && Array.isArray(body.value) ? body.value.filter(isRecord) : []
  const names = listed.flatMap(({ name, kind }) =>
    typeof name === 'string' && (kind === undefined || kind === 'EntitySet') ? [name] : [],
  )
  if (names.length === 0) throw new Error(words.serviceAddress.noList)
  return names
}
