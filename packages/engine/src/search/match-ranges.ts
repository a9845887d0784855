import { fold } from './fold.ts'

/** From a character up to another, counted in UTF-16 units. */
export interface MatchRange {
  readonly from: number
  readonly to: number
}

/**
 * Where folded words stand in a text as it is shown, in order and without overlaps: what a search marks. Words as
 * `searchWords` gives them.
 */
export function matchRanges(text: string, words: readonly string[]): MatchRange[] {
  const folded = fold(text).replaceAll('\n', ' ')
  const found: MatchRange[] = []
  for (const word of words) {
    for (let at = folded.indexOf(word); word !== '' && at !== -1; at = folded.indexOf(word, at + word.length))
      found.push({ from: at, to: at + word.length })
  }
  if (found.length === 0) return found
  const joined = joinRanges(found)
  // Where nothing but case was taken off, places are the same in both.
  if (folded.length === text.length && !/\p{M}/u.test(text.normalize('NFD'))) return joined
  const places = placesOf(text)
  return joined.map(({ from, to }) => ({
    from: places[from],
    to: places[to - 1] + unitsAt(text, places[to - 1]),
  }))
}

function joinRanges(ranges: MatchRange[]): MatchRange[] {
  ranges.sort((a, b) => a.from - b.from || b.to - a.to)
  const joined: MatchRange[] = []
  for (const range of ranges) {
    const last = joined.at(-1)
    if (last && range.from <= last.to)
      joined[joined.length - 1] = { from: last.from, to: Math.max(last.to, range.to) }
    else joined.push(range)
  }
  return joined
}

/** For every character of the folded text, where the one stands that it came from. */
function placesOf(text: string): number[] {
  const places: number[] = []
  for (let at = 0; at < text.length;) {
    const units = unitsAt(text, at)
    const { length } = fold(text.slice(at, at + units))
    for (let i = 0; i < length; i++) places.push(at)
    at += units
  }
  return places
}

/** UTF-16 units of a character together with the marks behind it. */
function unitsAt(text: string, at: number): number {
  return /^.\p{M}*/su.exec(text.slice(at))?.[0].length ?? 1
}
