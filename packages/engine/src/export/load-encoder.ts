import type { BatchEncoder } from './batch-encoder.ts'
import type { BatchFormat } from './formats.ts'

const loaders: Readonly<Record<BatchFormat, () => Promise<{ readonly encoder: BatchEncoder }>>> = {
  arrow: () => import('./arrow-encoder.ts'),
  parquet: () => import('./parquet-encoder.ts'),
}
const loaded = new Map<BatchFormat, BatchEncoder>()

/** Loads what writes a format, when it is first asked for. */
export async function loadEncoder(format: BatchFormat): Promise<void> {
  if (!loaded.has(format)) loaded.set(format, (await loaders[format]()).encoder)
}

/** What writes a format; it is loaded before. */
export function encoderOf(format: BatchFormat): BatchEncoder {
  const encoder = loaded.get(format)
  if (!encoder) throw new Error(`What writes "${format}" is not loaded yet.`)
  return encoder
}
