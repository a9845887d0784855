import type { ColumnWanted, FieldBlock, SettledColumn, SharedColumn } from './column-share.ts'

/** What a thread is told that reads some columns of delimited text. It hears of the blocks in their order. */
export type ShareTask =
  /** It is to read these columns, and to note in shared words how far it is; see `STATE_WORDS`. */
  | { readonly call: 'fields-begin'; readonly columns: readonly SharedColumn[]; readonly state: Int32Array }
  | { readonly call: 'fields-take'; readonly block: FieldBlock }
  /** Nothing is wanted of it any more. */
  | { readonly call: 'fields-drop' }

/** What such a thread is asked, and what it answers. */
export interface ShareQuestions {
  /** The file ends after so many rows; does it have to be read again? */
  'fields-end': { asked: { readonly rows: number }; answer: boolean }
  /** What became of its columns, in memory that all threads see. */
  'fields-settle': { asked: { readonly wanted: readonly ColumnWanted[] }; answer: readonly SettledColumn[] }
}

export type ShareQuestion = {
  [Name in keyof ShareQuestions]: { readonly call: Name } & ShareQuestions[Name]['asked']
}[keyof ShareQuestions]

/** Another thread that sees the same memory, and reads some of the columns. */
export interface ReadHelper {
  /** Whether it can still answer. */
  readonly alive: boolean
  hand(task: ShareTask): void
  /** Rejects where it could not do what it was told before. */
  ask<Name extends keyof ShareQuestions>(
    question: { readonly call: Name } & ShareQuestions[Name]['asked'],
  ): Promise<ShareQuestions[Name]['answer']>
}

/** Words that both threads see. */
export const STATE_WORDS = 2
/** Blocks that are gone through; −1: it failed. */
export const BLOCKS_DONE = 0
/** Kilobytes that its columns take. */
export const KILOBYTES = 1
