import { proposeKeys as propose, type KeyCheck } from '../key/propose-keys.ts'
import type { Question } from './question.ts'

/** Fields that name every row, the likeliest first. */
export const proposeKeys: Question<object, KeyCheck[]> = {
  answer: ({ edits }) => propose(edits.table, edits.absent),
}
