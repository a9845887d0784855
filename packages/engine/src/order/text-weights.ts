import type { TextBlock } from '../table/text-block.ts'

/**
 * Primary collation weights of single characters, asked of the collator itself. Only characters that weigh by
 * themselves are in it (ASCII, and Latin letters with one mark); any other makes its text *uneven*.
 */
export interface TextWeights {
  /** By code point below 0x250; 0: not in the table. */
  readonly of: Uint8Array
  readonly bits: number
}

const TABLE_END = 0x250
const known = new Map<string, TextWeights | null>()

/** The weights of a collator; null where texts have to be compared by it. */
export function textWeights(collator: Intl.Collator): TextWeights | null {
  const { locale, numeric, ignorePunctuation } = collator.resolvedOptions()
  if (numeric || ignorePunctuation || locale.includes('-u-')) return null
  let weights = known.get(locale)
  if (weights === undefined) known.set(locale, (weights = askWeights(locale)))
  return weights
}

function askWeights(locale: string): TextWeights | null {
  const base = new Intl.Collator(locale, { sensitivity: 'base' })
  const chars: string[] = []
  for (let code = 0x20; code < TABLE_END; code++) {
    const char = String.fromCharCode(code)
    if (
      code < 0x7f ||
      /^[A-Za-z][\u0300-\u0304\u0306-\u0308\u030a-\u030c\u0327\u0328]$/u.test(char.normalize('NFD'))
    ) {
      chars.push(char)
    }
  }
  chars.sort(base.compare)
  const of = new Uint8Array(TABLE_END)
  let weight = 1
  chars.forEach((char, i) => {
    if (i > 0 && base.compare(chars[i - 1], char) !== 0) weight++
    of[char.charCodeAt(0)] = weight
  })
  return weighsLetterByLetter(base, chars, of) ? { of, bits: 32 - Math.clz32(weight) } : null
}

/**
 * Whether letters weigh the same behind any other: not so in Czech, where *ch* is a letter behind *h*, in Danish (*aa*)
 * or Hungarian. Such a pair stands elsewhere than among its neighbours. Some ten thousand comparisons, once a language.
 */
function weighsLetterByLetter(base: Intl.Collator, chars: readonly string[], of: Uint8Array): boolean {
  const weight = (char: string): number => of[char.charCodeAt(0)]
  return chars.every(first =>
    chars.every((char, i) => {
      if (i === 0) return base.compare(first + char, first) > 0
      const before = chars[i - 1]
      return (
        Math.sign(base.compare(first + before, first + char)) === Math.sign(weight(before) - weight(char))
      )
    }),
  )
}

/** Words that hold the first weights of a text. */
export const PREFIX_WORDS = 4

/** Characters whose weights a prefix holds. */
export const prefixLength = ({ bits }: TextWeights): number => Math.floor(32 / bits) * PREFIX_WORDS

/** Writes the prefix of text `index`; false when one of its characters has no weight of its own. */
export function packPrefix(
  texts: TextBlock,
  index: number,
  weights: TextWeights,
  words: Uint32Array[],
): boolean {
  const { bytes, offsets } = texts
  const { of, bits } = weights
  const perWord = Math.floor(32 / bits)
  const end = offsets[index + 1]
  let packed = 0
  let inWord = 0
  let word = 0
  for (let at = offsets[index]; at < end; at++) {
    let code = bytes[at]
    // Two-byte sequences reach U+07FF; longer ones start above 0xDF.
    if (code >= 0x80) {
      if (code > 0xdf) return false
      code = ((code & 0x1f) << 6) | (bytes[++at] & 0x3f)
    }
    const weight = code < TABLE_END ? of[code] : 0
    if (weight === 0) return false
    if (word === PREFIX_WORDS) continue
    packed = (packed << bits) | weight
    if (++inWord === perWord) {
      words[word++][index] = packed
      packed = inWord = 0
    }
  }
  if (inWord > 0) words[word][index] = packed << (bits * (perWord - inWord))
  return true
}

/** Compares the weights of two even texts from character `from` on. */
export function compareWeights(
  { bytes, offsets }: TextBlock,
  { of }: TextWeights,
  a: number,
  b: number,
  from: number,
): number {
  const endA = offsets[a + 1]
  const endB = offsets[b + 1]
  let atA = offsets[a]
  let atB = offsets[b]
  for (let i = 0; ; i++) {
    if (atA >= endA || atB >= endB) return Number(atA < endA) - Number(atB < endB)
    let codeA = bytes[atA++]
    let codeB = bytes[atB++]
    // Even texts hold no longer sequences than of two bytes.
    if (codeA >= 0x80) codeA = ((codeA & 0x1f) << 6) | (bytes[atA++] & 0x3f)
    if (codeB >= 0x80) codeB = ((codeB & 0x1f) << 6) | (bytes[atB++] & 0x3f)
    if (i >= from && of[codeA] !== of[codeB]) return of[codeA] - of[codeB]
  }
}
