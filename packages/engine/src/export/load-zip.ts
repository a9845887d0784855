import type { zipStream } from './zip-stream.ts'

/** What packs files into one; it is loaded when it is first asked for. */
export const loadZip = async (): Promise<typeof zipStream> => (await import('./zip-stream.ts')).zipStream
