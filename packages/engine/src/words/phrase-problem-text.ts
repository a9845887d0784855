import type { PhraseProblem } from '../condition/phrase.ts'
import type { Field } from '../table/column.ts'

const EXPECTED: Readonly<Record<Field['type'], string>> = {
  text: 'a text',
  tags: 'a tag',
  boolean: 'yes or no',
  integer: 'a number',
  number: 'a number',
  date: 'a date such as 2024-06-14 or 2024-06',
  time: 'a time such as 09:30',
  datetime: 'a date or time such as 2024-06-14 or 2024-06-14T09:30',
}

/** A problem of a phrase in one sentence. */
export function phraseProblemText(problem: PhraseProblem): string {
  switch (problem.code) {
    case 'not-closed':
      return 'What begins here with a quotation mark is not closed.'
    case 'and-with-or':
      return 'A phrase joins its parts by “and” or by “or”, not by both.'
    case 'says-nothing':
      return 'Something is missing here.'
    case 'not-a-value':
      return `“${problem.text}” is not ${EXPECTED[problem.type]}.`
    case 'turned-round':
      return `“${problem.text}” begins after its end.`
  }
}
