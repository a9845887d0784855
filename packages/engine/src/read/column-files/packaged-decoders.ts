import type { Decoders } from './column-file.ts'

/** The decoders that ship beside the engine. */
export const packagedDecoders: Decoders = {
  arrow: () => import('./arrow/arrow.ts'),
  parquet: () => import('./parquet/parquet.ts'),
}
