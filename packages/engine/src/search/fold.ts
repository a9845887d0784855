const PLAIN_ASCII = /^[\x20-\x40\x5b-\x7e]*$/

/** Text with case and accents taken off, as search and conditions compare it: `Straße` and `łódź` are `strasse` and `lodz`. */
export function fold(text: string): string {
  if (PLAIN_ASCII.test(text)) return text
  const lower = text.toLowerCase()
  for (let i = 0; i < lower.length; i++) {
    if (lower.charCodeAt(i) > 0x7f) return stripAccents(lower)
  }
  return lower
}

/**
 * Letters that Unicode does not take apart, though people type them without what makes them special: a stroke, a
 * ligature. They become what the countries of their languages write in their place.
 */
const LETTERS: ReadonlyMap<string, string> = new Map(
  Object.entries({
    ß: 'ss',
    ẞ: 'SS',
    æ: 'ae',
    Æ: 'AE',
    œ: 'oe',
    Œ: 'OE',
    ø: 'o',
    Ø: 'O',
    ł: 'l',
    Ł: 'L',
    đ: 'd',
    Đ: 'D',
    ð: 'd',
    Ð: 'D',
    þ: 'th',
    Þ: 'TH',
    ħ: 'h',
    Ħ: 'H',
    ŧ: 't',
    Ŧ: 'T',
    ŋ: 'n',
    Ŋ: 'N',
    ı: 'i',
    ĸ: 'k',
    ſ: 's',
    ς: 'σ',
    ﬀ: 'ff',
    ﬁ: 'fi',
    ﬂ: 'fl',
    ﬃ: 'ffi',
    ﬄ: 'ffl',
  }),
)
const SPECIAL = new RegExp(`[${[...LETTERS.keys()].join('')}]`, 'gu')

/** Text with accents taken off, and with plain letters for those that have a stroke or are two in one. */
export const stripAccents = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .replace(SPECIAL, letter => LETTERS.get(letter) ?? letter)

/** The words of a search: runs between spaces, or what stands between double quotes. Folded, without repeats. */
export function searchWords(search: string): string[] {
  const words: string[] = []
  for (const [, quoted, bare] of search.matchAll(/"([^"]*)"?|(\S+)/g)) {
    const word = fold(quoted ?? bare).trim()
    if (word && !words.includes(word)) words.push(word)
  }
  return words
}
