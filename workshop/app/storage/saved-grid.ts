import { heardFromService } from '~/service/asked'
import { fetchOverLine } from '~/service/line'
import { addressToAsk } from '~/service/service-address'
import type { HandOver } from '~/handover/hand-over'
import type {
  Arrangement,
  Definition,
  ListingOptions,
  ReadOptions,
  RecipeInput,
  Scene,
  SourceInput,
} from '@vast-meadow/engine'
import type { ServiceOptions } from '@vast-meadow/engine/odata'

/** Where a saved grid's rows come from. */
export type Origin =
  | {
      readonly kind: 'recipe'
      readonly recipe: RecipeInput
      readonly computed: boolean
      readonly latencyMs: number
    }
  | FileOrigin
  | ServiceOrigin
  | ListingOrigin
  /** A definition that came without rows. */
  | { readonly kind: 'none' }

/** Rows that a service holds; an address without a host is the workshop's own server's. */
export interface ServiceOrigin extends Pick<ServiceOptions, 'address' | 'rows' | 'near'> {
  readonly kind: 'service'
}

/** Rows that a service lists in a way of its own: what of that can be kept as JSON. */
export type ListingOrigin = { readonly kind: 'listing' } & Omit<
  ListingOptions,
  'name' | 'fetch' | 'headers' | 'patience' | 'onAsked'
>

export interface FileOrigin {
  readonly kind: 'file'
  readonly name: string
  readonly bytes: number
  /** The file lies in the browser's storage beside the grid. */
  readonly kept: boolean
  /** How the builder wants it read; what is left out is found out. */
  readonly options?: ReadOptions
  /** How many times as many rows are shown; those beyond the file's are made up. */
  readonly times?: number
  /** The address that the rows were fetched from. */
  readonly address?: string
}

/** The first cells of a grid as its reader sees them. */
export interface GridPicture {
  readonly titles: readonly string[]
  /** By row; numbers stand at the end. */
  readonly rows: readonly (readonly string[])[]
  readonly ends: readonly boolean[]
}

/** A grid on the shelf. */
export interface SavedGrid {
  readonly id: string
  readonly title: string
  readonly origin: Origin
  /** null: made from the data when it opens. */
  readonly definition: Definition | null
  readonly arrangement: Arrangement | null
  /** What was arranged in Use, apart from what readers start with. */
  readonly reader?: Arrangement | null
  readonly rows: number
  readonly columns: number
  /** Milliseconds since 1970. */
  readonly changed: number
  readonly picture?: GridPicture | null
  readonly handedOver?: HandOver
  /** Arrangements that are kept with what they show. */
  readonly scenes?: readonly Scene[]
}

/** Files up to this size are kept with their grid; larger ones are asked for again. */
export const KEPT_FILE_BYTES = 64 * 1024 * 1024

export const fileOrigin = (file: Blob, name: string, more: Partial<FileOrigin> = {}): FileOrigin => ({
  kind: 'file',
  name,
  bytes: file.size,
  kept: file.size <= KEPT_FILE_BYTES,
  ...more,
})

/** What messages call a service; undefined: it is the workshop's own. */
const nameAt = (address: string): string | undefined =>
  addressToAsk(address) === address ? undefined : new URL(address).host

/** How the page asks a service at an address. */
const askedAt = (given: string) => ({
  address: addressToAsk(given),
  name: nameAt(given),
  onAsked: heardFromService,
  fetch: fetchOverLine,
})

/** What the grid is given for an origin; null: its file is not at hand. */
export function inputOf(origin: Origin, file: Blob | undefined): SourceInput | null {
  if (origin.kind === 'none') return null
  if (origin.kind === 'recipe') {
    const { recipe, computed, latencyMs } = origin
    return computed ? { kind: 'computed', recipe, latencyMs } : { kind: 'recipe', recipe }
  }
  if (origin.kind === 'service') {
    return { ...origin, ...askedAt(origin.address), events: nameAt(origin.address) === undefined }
  }
  if (origin.kind === 'listing') return { ...origin, ...askedAt(origin.address) }
  if (!file) return null
  const read = { kind: 'file' as const, blob: file, options: origin.options }
  return origin.times && origin.times > 1 ? { kind: 'grown', of: read, times: origin.times } : read
}
