const LINE_FEED = 10
const ONES = 0x01010101
const HIGH = 0x80808080
const LOW = 0x7f7f7f7f
const FEEDS = 0x0a0a0a0a

/**
 * Whether no byte is beyond ASCII or NUL. Looks at sixteen at a time: of a large file nearly every block is plain, and to
 * decode it only to see that costs as much as a fifth of reading it.
 */
export function isPlainText(bytes: Uint8Array): boolean {
  const lead = Math.min(bytes.length, (4 - (bytes.byteOffset & 3)) & 3)
  const words = (bytes.length - lead) >>> 4
  const last = lead + words * 16
  // The view must not be asked for where nothing is left: its place might lie behind the memory.
  if (words > 0 && !arePlain(new Int32Array(bytes.buffer, bytes.byteOffset + lead, words * 4))) return false
  for (let i = 0; i < lead; i++) if (bytes[i] === 0 || bytes[i] >= 0x80) return false
  for (let i = last; i < bytes.length; i++) if (bytes[i] === 0 || bytes[i] >= 0x80) return false
  return true
}

/** Four bytes each, a multiple of four of them. */
function arePlain(words: Int32Array): boolean {
  let any = 0
  let less = 0
  for (let i = 0; i < words.length; i += 4) {
    const [a, b, c, d] = [words[i], words[i + 1], words[i + 2], words[i + 3]]
    any |= a | b | c | d
    // Of bytes that are all below 128, only NUL borrows when one is taken from each.
    less |= (a - ONES) | (b - ONES) | (c - ONES) | (d - ONES)
  }
  return ((any | less) & HIGH) === 0
}

/** Line feeds among bytes; four are looked at at a time. */
export function feedsIn(bytes: Uint8Array): number {
  const lead = Math.min(bytes.length, (4 - (bytes.byteOffset & 3)) & 3)
  const words = (bytes.length - lead) >>> 2
  let count = words > 0 ? feedsInWords(new Int32Array(bytes.buffer, bytes.byteOffset + lead, words)) : 0
  for (let i = 0; i < lead; i++) if (bytes[i] === LINE_FEED) count++
  for (let i = lead + words * 4; i < bytes.length; i++) if (bytes[i] === LINE_FEED) count++
  return count
}

function feedsInWords(words: Int32Array): number {
  let count = 0
  for (let i = 0; i < words.length;) {
    // Each byte of the sum counts for itself, up to 255.
    let sum = 0
    for (const end = Math.min(words.length, i + 255); i < end; i++) {
      const other = words[i] ^ FEEDS
      // The high bit of each byte that is a line feed, and of no other.
      sum = (sum + (~(((other & LOW) + LOW) | other | LOW) >>> 7)) | 0
    }
    count += (sum & 255) + ((sum >>> 8) & 255) + ((sum >>> 16) & 255) + (sum >>> 24)
  }
  return count
}
