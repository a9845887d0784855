import { FACTS, fieldReference, functionHelp, type Field } from '@vast-meadow/engine'

interface Offer {
  /** What is put in. */
  readonly insert: string
  readonly shown: string
  readonly about: string
}

export interface Completion {
  /** The characters that an offer takes the place of. */
  readonly from: number
  readonly to: number
  readonly offers: readonly Offer[]
}

const MOST = 8

/** What could be meant by the word before the caret: fields, facts and functions; methods behind a point. */
export function completionAt(text: string, caret: number, fields: readonly Field[]): Completion | null {
  const before = text.slice(0, caret)
  if (inString(before)) return null
  const word = /[\p{L}_][\p{L}\p{N}_]*$/u.exec(before)?.[0] ?? ''
  const from = caret - word.length
  const behindPoint = before[from - 1] === '.'
  const owner = behindPoint ? (/[\p{L}\p{N}_]*$/u.exec(before.slice(0, from - 1))?.[0] ?? '') : ''
  if (word === '' && !behindPoint) return null
  const wanted = word.toLowerCase()
  const offers = (behindPoint && owner !== 'math' ? methods() : names(fields, owner === 'math')).filter(
    ({ shown }) =>
      shown
        .toLowerCase()
        .replace(/^\.|^math\./, '')
        .includes(wanted),
  )
  offers.sort((a, b) => Number(starts(b, wanted)) - Number(starts(a, wanted)))
  const exact = offers.length === 1 && offers[0].insert === word
  return offers.length === 0 || exact ? null : { from, to: caret, offers: offers.slice(0, MOST) }
}

const starts = ({ shown }: Offer, wanted: string): boolean =>
  shown
    .toLowerCase()
    .replace(/^\.|^math\./, '')
    .startsWith(wanted)

/** Whether the caret stands inside a text in quotes. */
function inString(before: string): boolean {
  let quote = ''
  for (let i = 0; i < before.length; i++) {
    const character = before[i]
    if (quote) {
      if (character === '\\') i++
      else if (character === quote) quote = ''
    } else if (character === '"' || character === "'") quote = character
  }
  return quote !== ''
}

const bare = (written: string): string => written.slice(0, written.indexOf('(')).replace(/^\./, '')

const methods = (): Offer[] =>
  functionHelp
    .filter(({ written }) => written.startsWith('.'))
    .map(({ written, help }) => ({ insert: `${bare(written)}(`, shown: written, about: help }))

function names(fields: readonly Field[], ofMath: boolean): Offer[] {
  const functions = functionHelp
    .filter(({ written }) => !written.startsWith('.') && (!ofMath || written.startsWith('math.')))
    .map(({ written, help }) => ({
      insert: `${ofMath ? bare(written).slice(5) : bare(written)}(`,
      shown: written,
      about: help,
    }))
  if (ofMath) return functions
  return [
    ...fields.map(({ key, type }) => ({ insert: fieldReference(key), shown: key, about: type })),
    ...FACTS.map(fact => ({ insert: fact, shown: fact, about: 'the row’s place in its source, from 1' })),
    ...functions,
  ]
}
