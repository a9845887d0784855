import type { CalendarUnit, ConditionWords } from '../condition/kinds/kind.ts'

const quantity = (count: number, unit: CalendarUnit): string => `${count} ${unit}${count === 1 ? '' : 's'}`
const NEAR_DAYS = { this: 'today', last: 'yesterday', next: 'tomorrow' } as const

/** How conditions are summed up where no other words are given. */
export const conditionWords: ConditionWords = {
  and: 'and',
  or: 'or',
  more: count => `${count} more`,
  contains: text => `contains ${text}`,
  excludes: text => `does not contain ${text}`,
  starts: text => `starts with ${text}`,
  ends: text => `ends with ${text}`,
  equals: text => `is ${text}`,
  differs: text => `is not ${text}`,
  pattern: text => `matches ${text}`,
  exactly: text => `${text}, case and accents counting`,
  above: text => `above ${text}`,
  atLeast: text => `at least ${text}`,
  below: text => `below ${text}`,
  atMost: text => `at most ${text}`,
  between: (from, to) => `${from} to ${to}`,
  relative: (which, unit, count) =>
    unit === 'day' && count === 0
      ? NEAR_DAYS[which]
      : count > 0
        ? `${which} ${quantity(count, unit)}`
        : `${which} ${unit}`,
  noneOf: texts => `not ${texts}`,
  allOf: texts => texts,
  missing: 'missing',
  present: 'present',
  own: {},
}
