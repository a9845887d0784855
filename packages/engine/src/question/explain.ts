import { andInto, countBits, fullBits, type Bits } from '../table/bits.ts'
import { textAt } from '../table/text-block.ts'
import type { ConditionPart } from '../condition/condition.ts'
import { fold, searchWords } from '../search/fold.ts'
import { nearestName } from '../table/nearest-name.ts'
import type { Work } from '../work/work.ts'
import type { Flow } from '../flow/flow.ts'
import type { FlowRequest } from '../flow/request.ts'
import type { ViewRequest } from '../flow/view-request.ts'
import type { Question } from './question.ts'

/** One thing that holds rows back: how many meet it alone, and how many would pass if it were lifted. */
export interface Hindrance {
  readonly meet: number
  readonly without: number
  /** The nearest text of the data where it asks for one that does not occur; null: it occurs, or none is near. */
  readonly nearest: string | null
}

/** What holds rows back, one by one. */
export interface Explanation {
  /** By column. */
  readonly conditions: Readonly<Record<string, Hindrance>>
  /** The words of the search, in its order. */
  readonly words: readonly (Hindrance & { readonly word: string })[]
}

/** Different texts of a column up to which a misspelt one is looked for among them. */
const MOST_TEXTS = 1 << 16
const TEXTS_A_SLICE = 1 << 11

/**
 * How many rows every condition and every word of the search holds back. Meant for when nothing passes: a count a
 * condition and a search a word, and for texts that nobody has a look for the nearest one.
 */
export const explain: Question<{ readonly request: ViewRequest }, Explanation> = {
  answer: ({ flow }, { request }) => explainAll(flow, request),
}

function* explainAll(flow: Flow, request: FlowRequest): Work<Explanation> {
  const words = searchWords(request.search)
  const searched = new Map<string, Bits>()
  for (const word of words) searched.set(word, yield* flow.rowsWithWord(word, request))
  const met = new Map<string, Bits>()
  for (const [column, condition] of Object.entries(request.conditions)) {
    if (!flow.columnIndexes.has(column)) continue
    met.set(column, (yield* flow.meetAlone(column, condition, request.clock)).rows)
  }
  const present = flow.present(request)
  const count = (sets: readonly Bits[]): number => {
    const all = present ? present.slice() : fullBits(flow.table.rows)
    for (const set of sets) andInto(all, set)
    return countBits(all)
  }
  const all = [...searched.values(), ...met.values()]
  const hindrance = (set: Bits): Pick<Hindrance, 'meet' | 'without'> => ({
    meet: count([set]),
    without: count(all.filter(other => other !== set)),
  })
  const conditions: Record<string, Hindrance> = {}
  for (const [column, set] of met) {
    const counts = hindrance(set)
    const wanted = counts.meet > 0 ? null : wantedText(request.conditions[column].parts)
    const nearest = wanted === null ? null : yield* nearestText(flow, [column], wanted, false)
    conditions[column] = { ...counts, nearest }
  }
  const told: (Hindrance & { word: string })[] = []
  for (const [word, set] of searched) {
    const counts = hindrance(set)
    const nearest = counts.meet > 0 ? null : yield* nearestText(flow, request.searchColumns, word, true)
    told.push({ word, ...counts, nearest })
  }
  return { conditions, words: told }
}

/** The one text that a condition asks for; null where it asks otherwise. */
function wantedText(parts: readonly ConditionPart[]): string | null {
  if (parts.length !== 1) return null
  const [part] = parts
  if (part.kind === 'contains' || part.kind === 'starts' || part.kind === 'ends') return part.text
  if (part.kind === 'equals' && typeof part.value === 'string') return part.value
  return part.kind === 'one-of' && part.values.length === 1 ? String(part.values[0]) : null
}

/** The nearest text, or the nearest word within one, of columns whose texts recur. */
function* nearestText(
  flow: Flow,
  columns: readonly string[],
  wanted: string,
  byWord: boolean,
): Work<string | null> {
  const near: string[] = []
  for (const key of columns) {
    const column = flow.table.columns[flow.columnIndexes.get(key) ?? -1]
    if (column?.kind !== 'coded' || column.texts.offsets.length > MOST_TEXTS) continue
    const texts = flow.table.fields[flow.columnIndex(key)].type === 'tags' ? null : column.texts
    if (!texts) continue
    for (let from = 0; from < texts.offsets.length - 1; from += TEXTS_A_SLICE) {
      const slice = new Set<string>()
      for (let i = from; i < Math.min(from + TEXTS_A_SLICE, texts.offsets.length - 1); i++) {
        const text = textAt(texts, i)
        slice.add(byWord ? fold(text) : text)
        for (const word of text.split(/\s+/)) slice.add(byWord ? fold(word) : word)
      }
      const nearest = nearestName(wanted, [...slice])
      if (nearest !== null) near.push(nearest)
      yield
    }
  }
  return nearestName(wanted, near)
}
