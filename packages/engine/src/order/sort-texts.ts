import { allTexts, textAt, type TextBlock } from '../table/text-block.ts'
import type { Work } from '../work/work.ts'
import { radixSort } from './counting.ts'
import {
  compareWeights,
  packPrefix,
  prefixLength,
  PREFIX_WORDS,
  textWeights,
  type TextWeights,
} from './text-weights.ts'

export type CompareText = (a: string, b: string) => number

/** Text order: by the locale's collation, then by code units, so that different texts never tie. */
export function textComparer(collator: Intl.Collator): CompareText {
  return (a, b) => collator.compare(a, b) || (a < b ? -1 : a > b ? 1 : 0)
}

/** Puts the numbers of all texts in text order. */
export type SortTexts = (texts: TextBlock, collator: Intl.Collator) => Work<Uint32Array>

/** Below this many texts the comparer alone is quick enough. */
const PREFIX_FROM = 2048

export const sortTexts: SortTexts = function* (texts, collator) {
  const count = texts.offsets.length - 1
  if (count >= PREFIX_FROM) {
    const weights = textWeights(collator)
    if (!weights) return yield* sortCompared(texts, collator)
    const { sorted, uneven } = yield* sortByPrefix(texts, weights, textComparer(collator))
    return uneven.length === 0 ? sorted : yield* mergeUneven(texts, collator, sorted, uneven)
  }
  const strings = allTexts(texts)
  const compare = textComparer(collator)
  return iota(count).sort((a, b) => compare(strings[a], strings[b]))
}

/** The numbers of all texts in order, from runs in order that hold each once, lower numbers in the first. */
export function* mergeSorted(
  texts: TextBlock,
  collator: Intl.Collator,
  runs: readonly Uint32Array[],
): Work<Uint32Array> {
  let sorted = runs[0]
  for (const run of runs.slice(1)) sorted = yield* mergeTwo(texts, textComparer(collator), sorted, run)
  return sorted
}

/** Each text is decoded once, when it comes to stand at the head of its run: decoding costs more than comparing. */
function* mergeTwo(
  texts: TextBlock,
  compare: CompareText,
  one: Uint32Array,
  other: Uint32Array,
): Work<Uint32Array> {
  const both = new Uint32Array(one.length + other.length)
  const head = (run: Uint32Array, at: number): string => (at < run.length ? textAt(texts, run[at]) : '')
  let [a, b] = [0, 0]
  let [textA, textB] = [head(one, a), head(other, b)]
  for (let at = 0; at < both.length; at++) {
    if (b === other.length || (a < one.length && compare(textA, textB) <= 0)) {
      both[at] = one[a++]
      textA = head(one, a)
    } else {
      both[at] = other[b++]
      textB = head(other, b)
    }
    if (at % COMPARED_A_SLICE === 0) yield
  }
  return both
}

function iota(count: number): Uint32Array {
  const out = new Uint32Array(count)
  for (let i = 0; i < count; i++) out[i] = i
  return out
}

/** Texts whose comparison takes up to some microseconds are compared so often between two pauses. */
const COMPARED_A_SLICE = 1 << 11
const CHUNK = 1 << 9

/** By the collator alone: chunks are put in order, then merged, so that there are pauses. */
export function* sortCompared(texts: TextBlock, collator: Intl.Collator): Work<Uint32Array> {
  const compare = textComparer(collator)
  const count = texts.offsets.length - 1
  const strings = new Array<string>(count)
  for (let i = 0; i < count; i++) {
    strings[i] = textAt(texts, i)
    if (i % 16_384 === 0) yield
  }
  const byNumber: CompareNumbers = (a, b) => compare(strings[a], strings[b]) || a - b
  let from: Uint32Array = iota(count)
  for (let at = 0; at < count; at += CHUNK) {
    from.subarray(at, at + CHUNK).sort(byNumber)
    yield
  }
  let to: Uint32Array = new Uint32Array(count)
  for (let size = CHUNK; size < count; size *= 2) {
    for (let at = 0; at < count; at += size * 2) {
      const run = to.subarray(at, at + size * 2)
      yield* mergeInto(run, from.subarray(at, at + size), from.subarray(at + size, at + size * 2), byNumber)
    }
    ;[from, to] = [to, from]
  }
  return from
}

/** Merges two runs in order; `into` has room for both. */
function* mergeInto(
  into: Uint32Array,
  one: Uint32Array,
  other: Uint32Array,
  compare: CompareNumbers,
): Work<void> {
  let a = 0
  let b = 0
  for (let at = 0; at < into.length; at++) {
    const first = b === other.length || (a < one.length && compare(one[a], other[b]) <= 0)
    into[at] = first ? one[a++] : other[b++]
    if (at % COMPARED_A_SLICE === 0) yield
  }
}

/** Texts in order, but for those that need the collator's own comparison. */
interface TextRun {
  readonly sorted: Uint32Array
  /** Not in order. */
  readonly uneven: number[]
}

/**
 * Sorts texts by their first ~16 primary weights, packed into four words, with radix passes; equal prefixes by what
 * comes behind. Right because collation compares all primary weights before any accent or case.
 */
function* sortByPrefix(texts: TextBlock, weights: TextWeights, compare: CompareText): Work<TextRun> {
  const count = texts.offsets.length - 1
  const words = Array.from({ length: PREFIX_WORDS }, () => new Uint32Array(count))
  const even = new Uint32Array(count)
  const uneven: number[] = []
  let evenCount = 0
  for (let i = 0; i < count; i++) {
    if (packPrefix(texts, i, weights, words)) even[evenCount++] = i
    else uneven.push(i)
    if (i % 65_536 === 0) yield
  }
  let sorted: Uint32Array = even.subarray(0, evenCount)
  for (let w = PREFIX_WORDS - 1; w >= 0; w--) sorted = (yield* radixSort(words[w], sorted, evenCount)).rows
  yield* settlePrefixTies(sorted, words, evenComparer(texts, weights, compare, prefixLength(weights)))
  return { sorted, uneven }
}

/** Compares two texts by their numbers; equal ones by the numbers themselves. */
type CompareNumbers = (a: number, b: number) => number

const numberComparer =
  (texts: TextBlock, compare: CompareText): CompareNumbers =>
  (a, b) =>
    compare(textAt(texts, a), textAt(texts, b)) || a - b

/**
 * Compares texts that weigh letter by letter: by the weights from character `from` on (those before are known to be
 * equal), read from the bytes; where they are equal too, by the comparer. Making strings for all ties took three
 * times as long.
 */
function evenComparer(
  texts: TextBlock,
  weights: TextWeights,
  compare: CompareText,
  from: number,
): CompareNumbers {
  const { offsets } = texts
  const byText = numberComparer(texts, compare)
  return (a, b) => {
    // A character takes at least a byte: texts without more bytes than that end within the prefix.
    const longer = Math.max(offsets[a + 1] - offsets[a], offsets[b + 1] - offsets[b]) > from
    return (longer ? compareWeights(texts, weights, a, b, from) : 0) || byText(a, b)
  }
}

function* settlePrefixTies(sorted: Uint32Array, words: Uint32Array[], compare: CompareNumbers): Work<void> {
  const [a, b, c, d] = words
  let checked = 0
  for (let from = 0; from < sorted.length;) {
    const first = sorted[from]
    let to = from + 1
    for (; to < sorted.length; to++) {
      const next = sorted[to]
      if (a[next] !== a[first] || b[next] !== b[first] || c[next] !== c[first] || d[next] !== d[first]) break
    }
    if (to - from > 1) sortTies(sorted, from, to, compare)
    if (to - checked > 16_384) {
      checked = to
      yield
    }
    from = to
  }
}

/** Up to this many texts are put in order by insertion. */
const FEW = 12

function sortTies(sorted: Uint32Array, from: number, to: number, compare: CompareNumbers): void {
  if (to - from > FEW) {
    sorted.subarray(from, to).sort(compare)
    return
  }
  for (let i = from + 1; i < to; i++) {
    const text = sorted[i]
    let at = i - 1
    for (; at >= from && compare(sorted[at], text) > 0; at--) sorted[at + 1] = sorted[at]
    sorted[at + 1] = text
  }
}

function* mergeUneven(
  texts: TextBlock,
  collator: Intl.Collator,
  sorted: Uint32Array,
  uneven: number[],
): Work<Uint32Array> {
  const compare = textComparer(collator)
  const strings = new Map(uneven.map(i => [i, textAt(texts, i)]))
  uneven.sort((a, b) => compare(strings.get(a) ?? '', strings.get(b) ?? ''))
  yield
  return mergeIn(sorted, uneven, i => strings.get(i) ?? textAt(texts, i), compare)
}

function mergeIn(
  sorted: Uint32Array,
  extra: readonly number[],
  text: (index: number) => string,
  compare: CompareText,
): Uint32Array {
  const out = new Uint32Array(sorted.length + extra.length)
  let taken = 0
  extra.forEach((index, nth) => {
    let low = taken
    let high = sorted.length
    const wanted = text(index)
    while (low < high) {
      const middle = (low + high) >>> 1
      if (compare(text(sorted[middle]), wanted) < 0) low = middle + 1
      else high = middle
    }
    out.set(sorted.subarray(taken, low), taken + nth)
    out[low + nth] = index
    taken = low
  })
  out.set(sorted.subarray(taken), taken + extra.length)
  return out
}
