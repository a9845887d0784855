const PLAIN_ASCII = /^[\x20-\x40\x5b-\x7e]*$/

/** Text with case and accents taken off, as search and conditions compare it. */
export function fold(text: string): string {
  if (PLAIN_ASCII.test(text)) return text
  const lower = text.toLowerCase()
  for (let i = 0; i < lower.length; i++) {
    if (lower.charCodeAt(i) > 0x7f) return stripAccents(lower)
  }
  return lower
}

/** Text with accents taken off. */
export const stripAccents = (text: string): string => text.normalize('NFD').replace(/\p{M}+/gu, '')

/** The words of a search: runs between spaces, or what stands between double quotes. Folded, without repeats. */
export function searchWords(search: string): string[] {
  const words: string[] = []
  for (const [, quoted, bare] of search.matchAll(/"([^"]*)"?|(\S+)/g)) {
    const word = fold(quoted ?? bare).trim()
    if (word && !words.includes(word)) words.push(word)
  }
  return words
}
