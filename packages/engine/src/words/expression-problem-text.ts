import type { ExpressionProblem, ValueType } from '../expression/problem.ts'

const NAMES: Readonly<Record<ValueType, string>> = {
  text: 'text',
  number: 'a number',
  boolean: 'yes or no',
  date: 'a date',
  time: 'a time',
  datetime: 'a date with time',
  duration: 'a duration',
  tags: 'tags',
  list: 'a list',
  nothing: 'null',
}

/** A type in words: `a number`. */
export const typeWords = (type: ValueType): string => NAMES[type]

const both = (types: readonly ValueType[]): string => types.map(typeWords).join(' and ')

/** A problem in one sentence: what is wrong, and what to do. */
export function expressionProblemText(problem: ExpressionProblem): string {
  switch (problem.code) {
    case 'not-written-right':
      return problem.found === null
        ? 'The expression ends too early.'
        : `“${problem.found}” cannot stand here.`
    case 'not-closed':
      return `This ${problem.found} is not closed; the expression ends too early.`
    case 'unknown-name':
      return `There is no field “${problem.name}”.${meant(problem.nearest)}`
    case 'unknown-function':
      return `There is no function “${problem.name}”.${meant(problem.nearest)}`
    case 'wrong-types':
      return problem.given.length === 0
        ? `“${problem.name}” needs ${wantedWords(problem.wanted)}.`
        : `“${problem.name}” does not take ${both(problem.given)}; it takes ${wantedWords(problem.wanted)}.`
    case 'branches-differ':
      return `Both sides of “:” must be of one type; these are ${both(problem.given)}.`
    case 'nothing-compared':
      return 'A comparison with null is never true. Ask with has(…) whether there is a value.'
    case 'not-readable':
      return `“${problem.text}” is not ${problem.what === 'pattern' ? 'a pattern in RE2 syntax' : typeWords(problem.what)}.`
    case 'must-be-written-out':
      return `What “${problem.name}” looks for must be written out in quotes; it cannot come from a field.`
    case 'not-in-dialect':
      return `${problem.what} cannot be used here.`
    case 'no-such-result':
      return problem.wanted === 'boolean'
        ? `The result must be yes or no; it is ${typeWords(problem.given)}.`
        : `The result cannot be ${typeWords(problem.given)}.${problem.given === 'duration' ? ' Say its unit, for example with .getHours().' : ''}`
    case 'source-cannot-compute':
      return 'These rows come from a source that cannot work out columns.'
    case 'parser-not-there':
      return `Expressions cannot be read, because their parser could not be loaded: ${problem.reason}`
    case 'circular':
      return `These columns are computed from one another: ${problem.names.map(name => `“${name}”`).join(', ')}.`
  }
}

const meant = (nearest: string | null): string => (nearest === null ? '' : ` Did you mean “${nearest}”?`)

const wantedWords = (wanted: readonly (readonly ValueType[])[]): string =>
  [...new Set(wanted.map(types => (types.length === 0 ? 'nothing' : both(types))))].join(', or ')
