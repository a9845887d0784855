import { openSource } from '@vast-meadow/engine'
import { inputOf, type ListingOrigin } from '~/storage/saved-grid'
import { words } from '~/words'
import { addressToAsk } from './service-address'

/** What a service that lists rows answers with when it is asked as is said. */
export interface ListingAnswer {
  readonly rows: number
  /** All of them are counted; else there may be more. */
  readonly counted: boolean
  /** By field: its type, and what the first rows have. */
  readonly fields: readonly { readonly key: string; readonly type: string; readonly samples: string }[]
}

const SHOWN_SAMPLES = 3

/** Asks as the grid would. Rejects with a sentence that says what is wrong. */
export async function askListing(origin: ListingOrigin, signal: AbortSignal): Promise<ListingAnswer> {
  const input = inputOf({ ...origin, near: 0 }, undefined)
  if (!input) throw new Error(words.listing.nothing)
  const source = await openSource(input)
  try {
    const { fields, total, samples } = await source.open({ signal })
    return {
      rows: total.rows,
      counted: total.kind === 'exact',
      fields: fields.map(({ key, type }, column) => ({
        key,
        type,
        samples: (samples[column] ?? []).filter(Boolean).slice(0, SHOWN_SAMPLES).join(', '),
      })),
    }
  } finally {
    source.close()
  }
}

/** What the address answers with, as it stands. Rejects with a sentence. */
export async function answerAt(address: string): Promise<unknown> {
  let response: Response
  try {
    response = await fetch(addressToAsk(address), { headers: { accept: 'application/json' } })
  } catch (error) {
    throw new Error(words.fetchAddress.theWorkshopsServerCouldNot, { cause: error })
  }
  if (!response.ok) throw new Error(words.fetchAddress.theServiceAnswersWithStatus(response.status))
  return await response.json().catch(() => {
    throw new Error(words.listing.noJson)
  })
}
