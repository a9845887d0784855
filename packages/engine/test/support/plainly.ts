/** Case and accents off, and plain letters for those with strokes and for two in one: letter by letter, the plain way. */
export const plainly = (text: string): string =>
  [...text.toLowerCase()]
    .map(letter => PLAIN_LETTERS[letter] ?? letter.normalize('NFD').replace(/\p{M}/gu, ''))
    .join('')

export const PLAIN_LETTERS: Readonly<Record<string, string>> = Object.assign(Object.create(null) as object, {
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  ø: 'o',
  ł: 'l',
  đ: 'd',
  ð: 'd',
  þ: 'th',
  ħ: 'h',
  ŧ: 't',
  ŋ: 'n',
  ı: 'i',
  ĸ: 'k',
  ſ: 's',
  ς: 'σ',
  ﬀ: 'ff',
  ﬁ: 'fi',
  ﬂ: 'fl',
  ﬃ: 'ffi',
  ﬄ: 'ffl',
})
