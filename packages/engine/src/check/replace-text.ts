/** What is looked for in a text, and what stands there instead. */
export interface Replacing {
  readonly find: string
  readonly by: string
  /** Only texts that are the found one as a whole; an empty one then finds what is missing. */
  readonly whole: boolean
  readonly matchCase: boolean
}

/**
 * A function that gives a text with all that is found replaced; null: nothing is found in it. Linear in the text: what is
 * looked for is taken letter by letter, never as a pattern.
 */
export function replacer({ find, by, whole, matchCase }: Replacing): (text: string) => string | null {
  if (whole) {
    const same = matchCase
      ? (text: string): string => text
      : (text: string): string => text.toLocaleLowerCase()
    const wanted = same(find.trim())
    return text => (same(text.trim()) === wanted ? by : null)
  }
  if (find === '') return () => null
  const found = new RegExp(find.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&'), matchCase ? 'gu' : 'giu')
  return text => {
    found.lastIndex = 0
    return found.test(text) ? text.replace(found, () => by) : null
  }
}
