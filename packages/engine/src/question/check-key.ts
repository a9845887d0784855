import { checkKey as check, type KeyCheck } from '../key/propose-keys.ts'
import type { Question } from './question.ts'

/** How well some fields name the rows. */
export const checkKey: Question<{ readonly keyFields: readonly string[] }, KeyCheck> = {
  answer: ({ edits }, { keyFields }) => check(edits.table, keyFields, edits.absent),
}
