import type { AnswerOf } from '../question/index.ts'
import type { Count, SourceDescription } from '../question/source-description.ts'
import { ChangeListeners } from './change-listeners.ts'
import type { RowSource, View } from './row-source.ts'
import type { SourceRemark } from '../question/source-remark.ts'
import { remarkText } from '../words/remark-text.ts'

/** Listeners hear of new rows this often at most. */
const TELL_EVERY_MS = 200

/**
 * A source whose rows come in batches: what is there can be arranged while more is on its way. `rest`: the batches
 * after those that `inner` was opened with; they are asked for one after another once the source is open.
 */
export function batchSource(inner: RowSource, rest: AsyncIterator<readonly object[]>): RowSource {
  const listeners = new ChangeListeners()
  let coming = true
  let closed = false
  let problem: SourceRemark | null = null
  let told = 0

  const tell = (): void => {
    told = performance.now()
    listeners.tell({ problem: problem && remarkText(problem) })
  }

  const pump = async (): Promise<void> => {
    try {
      while (!closed) {
        const next = await rest.next()
        if (next.done || closed) break
        if (next.value.length > 0) await inner.commit({ append: next.value }, [])
        if (performance.now() - told > TELL_EVERY_MS) tell()
      }
    } catch (error) {
      problem = { code: 'broken-off', reason: error instanceof Error ? error.message : String(error) }
    }
    coming = false
    if (!closed) tell()
  }

  const asKnown = (description: SourceDescription): SourceDescription => {
    const { total, notes, remarks = [] } = description
    return {
      ...description,
      total: coming || problem ? { kind: 'at-least', rows: total.rows } : total,
      notes: problem ? [remarkText(problem), ...notes] : notes,
      remarks: problem ? [problem, ...remarks] : remarks,
    }
  }

  return {
    async open(options) {
      const description = await inner.open(options)
      void pump()
      return asKnown(description)
    },
    async view(request, options) {
      const view = await inner.view(request, options)
      return coming || problem !== null ? { ...view, counts: mapCounts(view.counts) } : view
    },
    async ask(question, args, options) {
      const answer = await inner.ask(question, args, options)
      // Only what is answered to `description` is one; the checker cannot see that through the name.
      return question === 'description'
        ? (asKnown(answer as SourceDescription) as AnswerOf<typeof question>)
        : answer
    },
    stream: (request, options) => inner.stream(request, options),
    commit: (changes, keyFields) => inner.commit(changes, keyFields),
    onChange: listener => listeners.add(listener),
    close() {
      closed = true
      listeners.clear()
      void rest.return?.()
      inner.close()
    },
  }
}

/** More rows are on their way, so that every count is of those that are here. */
function mapCounts({ total, passing, lines }: View['counts']): View['counts'] {
  const atLeast = ({ rows }: Count): Count => ({ kind: 'at-least', rows })
  return { total: atLeast(total), passing: atLeast(passing), lines: atLeast(lines) }
}
