import type { LeftOut } from '@vast-meadow/engine'

/** One thing that a reader has otherwise than the grid starts. */
interface ReaderDifference {
  readonly text: string
  /** Makes this one thing as at the start. */
  putBack(): void
}

/** Of the grid's handle: what a reader arranged, kept by name and handed on. */
export interface ArrangementsHandle {
  /** What differs from the start, a sentence each. */
  readonly differences: readonly ReaderDifference[]
  /** The names of the arrangements that are kept, in the order in which they were. */
  readonly arrangementNames: readonly string[]
  /** The name of the arrangement that the grid begins with; null: it begins as it was left. */
  readonly firstArrangement: string | null
  /** Everything as the grid starts. */
  backToStart(): void
  /** Keeps what is arranged by a name; one that was kept by it before is given up. */
  saveArrangement(name: string): Promise<void>
  /** Arranges what was kept by a name; what of it does not hold any more is answered. Throws where there is none. */
  takeArrangement(name: string): readonly LeftOut[]
  renameArrangement(name: string, to: string): Promise<void>
  forgetArrangement(name: string): Promise<void>
  /** Which of the kept ones the grid begins with; null: it begins as it was left. */
  beginWith(name: string | null): Promise<void>
  /** What is arranged as a short text for addresses. */
  arrangementLink(): Promise<string>
  /** Arranges what such a text says; false, and a `problem`, where it says nothing. */
  arrangeByLink(link: string): Promise<boolean>
}
