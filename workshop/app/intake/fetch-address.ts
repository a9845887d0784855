import { words } from '~/words'
import { isRecord } from '@vast-meadow/engine/client'
/** Rows of an address as a file. What is not the workshop's own comes through its server. */
export async function fetchAddress(address: string, signal?: AbortSignal): Promise<File> {
  const own = address.startsWith('/') && !address.startsWith('//')
  const url = own ? address : `/api/rows?address=${encodeURIComponent(address)}`
  let answer: Response
  try {
    answer = await fetch(url, { signal })
  } catch (error) {
    if (signal?.aborted) throw error
    throw new Error(words.fetchAddress.theWorkshopsServerCouldNot, {
      cause: error,
    })
  }
  if (!answer.ok) throw new Error(await problemOf(answer))
  const path = new URL(address, location.href).pathname
  return new File([await answer.blob()], path.split('/').filter(Boolean).at(-1) ?? 'rows')
}

async function problemOf(answer: Response): Promise<string> {
  const told: unknown = await answer.json().catch(() => null)
  const own = isRecord(told) ? [told.problem, told.error].find(text => typeof text === 'string') : null
  return own ?? words.fetchAddress.theServiceAnswersWithStatus(answer.status)
}
