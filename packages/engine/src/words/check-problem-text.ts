import type { CheckProblem } from '../check/check-problem.ts'

const TYPES: Readonly<Record<string, string>> = {
  integer: 'a number',
  number: 'a number',
  boolean: 'yes or no',
  date: 'a day, such as 2026-04-30',
  time: 'a time, such as 14:05',
  datetime: 'a day and a time, such as 2026-04-30 14:05',
  tags: 'a list of words',
  text: 'a text',
}
const counted = (n: number, of: 'characters' | 'tags'): string => `${n} ${n === 1 ? of.slice(0, -1) : of}`

const listed = (names: readonly string[]): string => names.map(name => `“${name}”`).join(' and ')

/** What is wrong with a cell or a row, in a sentence. */
export function checkProblemText(problem: CheckProblem): string {
  switch (problem.code) {
    case 'not-of-type':
      return `“${problem.text}” is not ${TYPES[problem.type]}.`
    case 'too-many-digits':
      return `“${problem.text}” has more digits than this column can tell apart.`
    case 'required':
      return 'A value is needed here.'
    case 'not-whole':
      return 'Only whole numbers go here.'
    case 'below-least':
      return `It must be ${problem.least} or more.`
    case 'above-most':
      return `It must be ${problem.most} or less.`
    case 'too-short':
      return `It needs ${counted(problem.shortest, problem.of)} or more.`
    case 'too-long':
      return `It may have ${counted(problem.longest, problem.of)} at most.`
    case 'not-a-choice':
      return 'It is none of the choices.'
    case 'not-a-choice-beside':
      return `“${problem.column}” is none of the choices beside this ${listed(problem.beside)}.`
    case 'not-unique':
      return 'Another row has the same value, and no two may.'
    case 'not-matching':
      return problem.says ?? `It does not match ${problem.pattern}.`
    case 'not-holding':
      return problem.says ?? `“${problem.expression}” does not hold.`
    case 'check-failed':
      return `It cannot be checked: ${problem.reason}.`
    case 'said':
      return problem.text
  }
}
