import type { TextBlock } from '../table/text-block.ts'
import { Answer, type Helper } from '../work/helper.ts'
import { begin, type Work } from '../work/work.ts'
import { mergeSorted, sortCompared, sortTexts } from './sort-texts.ts'
import { textWeights } from './text-weights.ts'

/** Fewer texts than this a thread sorts sooner alone than it hands over. */
const SPLIT_FROM = 50_000

/** A run of texts that a helper shall sort; they lie in shared memory. The answer is written by `answerSort`. */
export interface SortTask {
  readonly call: 'sort'
  readonly texts: TextBlock
  readonly locale: string
  readonly numeric: boolean
  readonly answer: SharedArrayBuffer
}

/**
 * The numbers of all texts in text order. Where they are many, lie in shared memory and have to be compared by the
 * collator, helpers sort their share; where weights tell them apart, merging the shares costs what sorting them spares
 * (a million remarks: 700 ms alone, 950 ms by two threads).
 */
export function* sortTextsSplit(
  texts: TextBlock,
  collator: Intl.Collator,
  helpers: readonly Helper<SortTask>[],
  least = SPLIT_FROM,
): Work<Uint32Array> {
  const count = texts.offsets.length - 1
  const alive = helpers.filter(helper => helper.alive)
  if (alive.length === 0 || count < least || !isShared(texts) || textWeights(collator))
    return yield* sortTexts(texts, collator)
  const each = Math.ceil(count / (alive.length + 1))
  const asked = alive.map((helper, i) => {
    const from = Math.min(count, each * (i + 1))
    return begin(sortElsewhere(helper, texts, from, Math.min(count, from + each), collator))
  })
  try {
    const runs = [yield* sortCompared(slice(texts, 0, each), collator)]
    for (const work of asked) runs.push(yield* work)
    return yield* mergeSorted(texts, collator, runs)
  } finally {
    for (const work of asked) work.return(undefined as never)
  }
}

const isShared = ({ bytes, offsets }: TextBlock): boolean =>
  [bytes, offsets].every(
    ({ buffer }) => typeof SharedArrayBuffer !== 'undefined' && buffer instanceof SharedArrayBuffer,
  )

const slice = ({ bytes, offsets }: TextBlock, from: number, to: number): TextBlock => ({
  bytes,
  offsets: offsets.subarray(from, to + 1),
})

function* sortElsewhere(
  helper: Helper<SortTask>,
  texts: TextBlock,
  from: number,
  to: number,
  collator: Intl.Collator,
): Work<Uint32Array> {
  const { locale, numeric } = collator.resolvedOptions()
  const answer = new Answer(to - from)
  const share = slice(texts, from, to)
  helper.hand({ call: 'sort', texts: share, locale, numeric, answer: answer.memory })
  const sorted = (yield* answer.arrived(helper)) ? answer.words : yield* sortCompared(share, collator)
  // Numbers count from the share's first text; here from the first of all.
  return sorted.map(i => i + from)
}

/** What a helper does of a `SortTask`. */
export function* answerSort({ texts, locale, numeric }: SortTask, words: Uint32Array): Work<void> {
  words.set(yield* sortCompared(texts, new Intl.Collator(locale, { numeric })))
}
