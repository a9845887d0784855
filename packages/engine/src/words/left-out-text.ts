import type { LeftOut } from '../definition/merge-arrangement.ts'
import type { LinkProblem } from '../definition/arrangement-link.ts'

const REASONS: Readonly<Record<LeftOut['code'], string>> = {
  'no-such-column': 'there is no such column any more',
  'not-orderable': 'rows cannot be ordered by it any more',
  'one-key-only': 'rows are ordered by one column at a time now',
  'not-askable': 'it cannot be asked any more, or only as the grid starts',
  'not-for-type': 'what it holds is of another type now',
  'not-groupable': 'rows cannot be grouped by it any more',
  'not-offered': 'that summary is not offered any more',
  'not-movable': 'it stays where it is now',
  'stays-together': 'the columns under its heading stay together now',
  'not-searchable': 'the grid cannot be searched any more',
  'no-such-size': 'there is no such page size any more',
}

const PARTS: Partial<Record<LeftOut['part'], string>> = {
  order: 'Order',
  conditions: 'Condition',
  groups: 'Groups',
  summaries: 'Summary',
  columns: 'Place',
  pinnedStart: 'Pin',
  pinnedEnd: 'Pin',
  search: 'Search',
  pageSize: 'Page size',
}

/** What of a kept arrangement was left out, in a sentence. `titleOf`: what readers call a column. */
export function leftOutText({ code, part, column }: LeftOut, titleOf: (column: string) => string): string {
  const of = column === null ? '' : ` of “${titleOf(column)}”`
  return `${PARTS[part] ?? part}${of} was left out: ${REASONS[code]}.`
}

/** Why an arrangement cannot be had from a link, in a sentence, with what to do. */
export function linkProblemText({ code, at }: LinkProblem): string {
  switch (code) {
    case 'link-newer':
      return 'The arrangement in this link was made by a newer grid; the page has to be brought up to date to read it.'
    case 'link-too-long':
      return 'The arrangement in this link is too long to be one.'
    case 'link-damaged':
      return 'The arrangement in this link is damaged or cut off; ask for the link again.'
    case 'link-no-arrangement':
      return `What this link holds is no arrangement (${at}).`
  }
}
