import type { ColumnIndex } from '../table/column.ts'
import { andInto, countBits, emptyBits, fullBits, type Bits } from '../table/bits.ts'
import { Memo } from '../work/memo.ts'
import type { Work } from '../work/work.ts'
import { findWord, type ShownIndex } from './shown-index.ts'

/** Where the searcher gets a column's index; builds it when it is not there yet. */
export type IndexOf = (column: ColumnIndex) => Work<ShownIndex>
/** Whether a column's shown text could hold the word at all. */
export type MayHold = (column: ColumnIndex, word: string) => boolean

/** Hits below this share of the rows are looked at one by one when a word grows by a letter; above, all are quicker. */
const FEW = 1 / 6
/** Words whose hits are kept; each costs a bit a row. */
const KEPT = 12

/** The rows in which a word stands in some of the columns. */
interface Hits {
  readonly word: string
  readonly columns: string
  readonly rows: Bits
}

/**
 * Finds the rows in which every word of a search stands in some shown column. Each word's rows are kept, so that
 * one letter more starts from the rows that the shorter word found.
 */
export class RowSearch {
  private readonly rows: number
  private readonly indexOf: IndexOf
  private readonly mayHold: MayHold
  private readonly kept = new Memo<Hits>(KEPT)

  constructor(rows: number, indexOf: IndexOf, mayHold: MayHold) {
    this.rows = rows
    this.indexOf = indexOf
    this.mayHold = mayHold
  }

  /** The rows in which every word, folded, stands in some of the columns. */
  *find(words: readonly string[], columns: readonly ColumnIndex[]): Work<Bits> {
    const found = fullBits(this.rows)
    for (const word of words) {
      const { value } = yield* this.kept.of(JSON.stringify([word, columns]), () => this.hits(word, columns))
      andInto(found, value.rows)
    }
    return found
  }

  private *hits(word: string, columns: readonly ColumnIndex[]): Work<Hits> {
    const wider = this.widerHits(word, columns.join())
    const rows = emptyBits(this.rows)
    for (const column of columns) {
      if (this.mayHold(column, word)) yield* findWord(yield* this.indexOf(column), word, rows, wider)
    }
    return { word, columns: columns.join(), rows }
  }

  /** The rows of a kept word that stands within `word`, where they are few; in the same columns. */
  private widerHits(word: string, columns: string): Bits | null {
    let best: Bits | null = null
    let fewest = this.rows * FEW
    for (const [, hits] of this.kept.entries()) {
      if (hits.columns !== columns || !word.includes(hits.word)) continue
      const count = countBits(hits.rows)
      if (count < fewest) {
        best = hits.rows
        fewest = count
      }
    }
    return best
  }
}
