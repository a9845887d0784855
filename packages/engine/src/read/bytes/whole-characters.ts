/** Bytes at the end that begin a character of UTF-8 and do not end it; 0: the last character is whole. */
export function unfinishedBytes(bytes: Uint8Array): number {
  const from = Math.max(0, bytes.length - 3)
  for (let at = bytes.length - 1; at >= from; at--) {
    const byte = bytes[at]
    if ((byte & 0xc0) === 0x80) continue
    const needs = byte >= 0xf0 ? 4 : byte >= 0xe0 ? 3 : byte >= 0xc0 ? 2 : 1
    return needs > bytes.length - at ? bytes.length - at : 0
  }
  return 0
}
