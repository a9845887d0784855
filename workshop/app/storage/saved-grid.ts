import type { Arrangement, Definition, RecipeInput } from '@vast-meadow/engine'

/** Where a saved grid's rows come from. */
export type Origin =
  | {
      readonly kind: 'recipe'
      readonly recipe: RecipeInput
      readonly computed: boolean
      readonly latencyMs: number
    }
  /** `kept`: the file lies in the browser's storage beside the grid. */
  | { readonly kind: 'file'; readonly name: string; readonly bytes: number; readonly kept: boolean }

/** A grid on the shelf. */
export interface SavedGrid {
  readonly id: string
  readonly title: string
  readonly origin: Origin
  /** null: made from the data when it opens. */
  readonly definition: Definition | null
  readonly arrangement: Arrangement | null
  readonly rows: number
  readonly columns: number
  /** Milliseconds since 1970. */
  readonly changed: number
}

/** Files up to this size are kept with their grid; larger ones are asked for again. */
export const KEPT_FILE_BYTES = 64 * 1024 * 1024
