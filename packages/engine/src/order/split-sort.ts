import type { TextBlock } from '../table/text-block.ts'
import { Answer, type Helper } from '../work/helper.ts'
import { begin, type Work } from '../work/work.ts'
import { mergeRuns, sortRun, sortTexts, type TextRun } from './sort-texts.ts'

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

/** The numbers of all texts in text order; where they are many and lie in shared memory, helpers sort their share. */
export function* sortTextsSplit(
  texts: TextBlock,
  collator: Intl.Collator,
  helpers: readonly Helper<SortTask>[],
  least = SPLIT_FROM,
): Work<Uint32Array> {
  const count = texts.offsets.length - 1
  const alive = helpers.filter(helper => helper.alive)
  if (alive.length === 0 || count < least || !isShared(texts)) return yield* sortTexts(texts, collator)
  const each = Math.ceil(count / (alive.length + 1))
  const asked = alive.map((helper, i) => {
    const from = Math.min(count, each * (i + 1))
    return begin(sortElsewhere(helper, texts, from, Math.min(count, from + each), collator))
  })
  try {
    const runs = [yield* sortRun(slice(texts, 0, each), collator)]
    for (const work of asked) runs.push(yield* work)
    return yield* mergeRuns(texts, collator, runs)
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
): Work<TextRun> {
  const { locale, numeric } = collator.resolvedOptions()
  const answer = new Answer(to - from + 1)
  const share = slice(texts, from, to)
  helper.hand({ call: 'sort', texts: share, locale, numeric, answer: answer.memory })
  const run = (yield* answer.arrived(helper)) ? readRun(answer.words) : yield* sortRun(share, collator)
  // Numbers count from the share's first text; here from the first of all.
  return { sorted: run.sorted.map(i => i + from), uneven: run.uneven.map(i => i + from) }
}

/** The first word says how many are in order; those come next, then the others. */
function readRun(words: Uint32Array): TextRun {
  const [sorted] = words
  return { sorted: words.subarray(1, sorted + 1), uneven: words.subarray(sorted + 1) }
}

/** What a helper does of a `SortTask`. */
export function* answerSort({ texts, locale, numeric }: SortTask, words: Uint32Array): Work<void> {
  const { sorted, uneven } = yield* sortRun(texts, new Intl.Collator(locale, { numeric }))
  words[0] = sorted.length
  words.set(sorted, 1)
  words.set(uneven, sorted.length + 1)
}
