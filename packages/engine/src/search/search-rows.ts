import { andInto, countBits, emptyBits, fullBits, type Bits } from '../table/bits.ts'
import type { Work } from '../work/work.ts'
import { findWord, type ShownIndex } from './shown-index.ts'

/** Where the searcher gets a column's index; builds it when it is not there yet. */
export type IndexOf = (column: number) => Work<ShownIndex>
/** Whether a column's shown text could hold the word at all. */
export type MayHold = (column: number, word: string) => boolean

/** Hits below this share of the rows are looked at one by one when a word grows by a letter; above, all are quicker. */
const FEW = 1 / 6
/** Words whose hits are kept; each costs a bit a row. */
const KEPT = 12

/**
 * Finds the rows in which every word of a search stands in some shown column. Each word's rows are kept, so that
 * one letter more starts from the rows that the shorter word found.
 */
export class RowSearch {
  private readonly rows: number
  private readonly indexOf: IndexOf
  private readonly mayHold: MayHold
  private kept = new Map<string, Bits>()
  private columns = ''

  constructor(rows: number, indexOf: IndexOf, mayHold: MayHold) {
    this.rows = rows
    this.indexOf = indexOf
    this.mayHold = mayHold
  }

  /** The rows in which every word, folded, stands in some of the columns. */
  *find(words: readonly string[], columns: readonly number[]): Work<Bits> {
    const found = fullBits(this.rows)
    for (const word of words) andInto(found, yield* this.hits(word, columns))
    return found
  }

  private *hits(word: string, columns: readonly number[]): Work<Bits> {
    this.keepFor(columns)
    const known = this.kept.get(word)
    if (known) return known
    const wider = this.widerHits(word)
    const hits = emptyBits(this.rows)
    for (const column of columns) {
      if (this.mayHold(column, word)) yield* findWord(yield* this.indexOf(column), word, hits, wider)
    }
    this.kept.set(word, hits)
    if (this.kept.size > KEPT) this.kept.delete(this.kept.keys().next().value!)
    return hits
  }

  /** What was kept holds only for the columns it was searched in. */
  private keepFor(columns: readonly number[]): void {
    const signature = columns.join()
    if (signature !== this.columns) this.kept.clear()
    this.columns = signature
  }

  /** The rows of a kept word that stands within `word`, where they are few. */
  private widerHits(word: string): Bits | null {
    let best: Bits | null = null
    let fewest = this.rows * FEW
    for (const [known, hits] of this.kept) {
      if (!word.includes(known)) continue
      const count = countBits(hits)
      if (count < fewest) {
        best = hits
        fewest = count
      }
    }
    return best
  }
}
