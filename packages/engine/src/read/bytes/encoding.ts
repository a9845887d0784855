export const ENCODINGS = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const
export type Encoding = (typeof ENCODINGS)[number]

export interface EncodingFound {
  readonly encoding: Encoding
  /** Bytes at the start that only name the encoding. */
  readonly markBytes: number
}

/** The encoding that a byte-order mark names, or that the zeros of plain Latin text betray; else UTF-8. */
export function detectEncoding(head: Uint8Array): EncodingFound {
  if (head[0] === 0xef && head[1] === 0xbb && head[2] === 0xbf) return { encoding: 'utf-8', markBytes: 3 }
  if (head[0] === 0xff && head[1] === 0xfe) return { encoding: 'utf-16le', markBytes: 2 }
  if (head[0] === 0xfe && head[1] === 0xff) return { encoding: 'utf-16be', markBytes: 2 }
  const zeros = [0, 0]
  const looked = Math.min(head.length, 4096) & ~1
  for (let i = 0; i < looked; i++) if (head[i] === 0) zeros[i & 1]++
  const many = looked / 2 / 3
  if (zeros[1] > many && zeros[0] * 10 < zeros[1]) return { encoding: 'utf-16le', markBytes: 0 }
  if (zeros[0] > many && zeros[1] * 10 < zeros[0]) return { encoding: 'utf-16be', markBytes: 0 }
  return { encoding: 'utf-8', markBytes: 0 }
}

export const isGzip = (head: Uint8Array): boolean => head[0] === 0x1f && head[1] === 0x8b
