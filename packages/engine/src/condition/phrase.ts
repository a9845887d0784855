import type { Format } from '../table/format.ts'
import { leadingNumber, numberSigns, plainDigits, type NumberSigns } from '../table/read-number.ts'
import type { Field } from '../table/column.ts'
import { DAY_MS, isoClock, isoDay } from '../table/calendar.ts'
import { spanOf, compareBounds } from './amount.ts'
import { ANY_CLOCK } from './clock.ts'
import type { Condition, ConditionPart } from './condition.ts'
import { CALENDAR_UNITS, type Amount } from './kinds/kind.ts'
import { isKeyOf, isOneOf } from '../work/checked.ts'
import { ownValuesSchema } from './kinds/own.ts'
import type { PhraseWriter } from './kinds/kind.ts'
import { kindNamed } from './kinds/index.ts'
import { NEAR_DAYS, RELATIVES } from './kinds/relative.ts'
import { isToldByDouble, plainNumber } from '../table/digits.ts'

/** What a phrase is about: the column's field, its title, and its words for yes and no. */
export interface PhraseOf {
  readonly field: Field
  readonly title?: string
  readonly yes?: string
  readonly no?: string
  /** How the column writes numbers, which are read as they are written. */
  readonly format?: Format
}

/** Why a phrase cannot be read; `from` and `to` say where, in UTF-16 units. */
export type PhraseProblem = { readonly from: number; readonly to: number } & (
  | { readonly code: 'not-closed' }
  | { readonly code: 'and-with-or' }
  | { readonly code: 'says-nothing' }
  | { readonly code: 'not-a-value'; readonly text: string; readonly type: Field['type'] }
  | { readonly code: 'turned-round'; readonly text: string }
)

export type PhraseResult =
  | { readonly ok: true; readonly condition: Condition }
  | { readonly ok: false; readonly problem: PhraseProblem }

/** A part of a phrase, and where it stands in it. */
interface Piece {
  readonly text: string
  readonly at: number
}

class Unreadable extends Error {
  readonly problem: PhraseProblem
  constructor(problem: PhraseProblem) {
    super(problem.code)
    this.problem = problem
  }
}

const STRING = /^"(?:[^"\\]|\\.)*"/s

/**
 * Reads a condition from a short phrase: parts joined by `and`, or by `or`. Text: `oak`, `not oak`, `"oak"` (the whole
 * text), `oak..`, `..oak`, `/pattern/`, `a, b`, each also after `exactly`. Numbers, dates and times: `3`, `not 3`,
 * `> 3`, `>= 3`, `< 3`, `<= 3`, `3..7`, `3..`, `..7`, `3, 5`; dates also `2024-06`, `this week`, `last 30 days`.
 * Truths: `yes`, `no`, the column's words, its title, and `not` before them. Tags: `wet`, `not wet`,
 * `all of "wet", "dry"`. All: `missing`, `present`, `one of …`, `none of …`.
 */
export function readPhrase(phrase: string, of: PhraseOf): PhraseResult {
  const text = phrase.replace(/[“”]/g, '"')
  try {
    const { pieces, joint } = split(text)
    const parts = pieces.map(piece => readPart(piece, of))
    return { ok: true, condition: { match: joint === 'or' ? 'any' : 'all', parts } }
  } catch (error) {
    if (error instanceof Unreadable) return { ok: false, problem: error.problem }
    throw error
  }
}

/** Parts between the words `and` and `or`, outside of quotation marks and patterns. */
function split(text: string): { pieces: Piece[]; joint: 'and' | 'or' | null } {
  const pieces: Piece[] = []
  let joint: 'and' | 'or' | null = null
  let start = 0
  const take = (end: number): void => {
    const raw = text.slice(start, end)
    const at = start + raw.length - raw.trimStart().length
    if (raw.trim() === '') throw new Unreadable({ code: 'says-nothing', from: start, to: end })
    pieces.push({ text: raw.trim(), at })
  }
  for (let at = 0; at < text.length;) {
    if (text[at] === '"') {
      const closed = STRING.exec(text.slice(at))
      if (!closed) throw new Unreadable({ code: 'not-closed', from: at, to: text.length })
      at += closed[0].length
      continue
    }
    if (
      text[at] === '/' &&
      text
        .slice(start, at)
        .replace(/^\s*exactly\s+/i, '')
        .trim() === ''
    ) {
      const closed = /^\/(?:[^/\\]|\\.)*\//s.exec(text.slice(at))
      if (closed) {
        at += closed[0].length
        continue
      }
    }
    const word = /^\s(and|or)(?=\s)/i.exec(text.slice(at))
    if (!word) {
      at++
      continue
    }
    const found = word[1].toLowerCase() === 'or' ? 'or' : 'and'
    if (joint && joint !== found)
      throw new Unreadable({ code: 'and-with-or', from: at + 1, to: at + word[0].length })
    joint = found
    take(at)
    at = start = at + word[0].length
  }
  take(text.length)
  return { pieces, joint }
}

function readPart(piece: Piece, of: PhraseOf): ConditionPart {
  const { text } = piece
  if (/^missing$/i.test(text)) return { kind: 'missing' }
  if (/^present$/i.test(text)) return { kind: 'present' }
  const own = /^own\s+("(?:[^"\\]|\\.)*")\s*(.*)$/s.exec(text)
  if (own) return ownPart(own[1], own[2], piece)
  const exactly = /^exactly\s+(?=\S)/i.exec(text)
  if (exactly && (of.field.type === 'text' || of.field.type === 'tags')) {
    const part = readPart(after(piece, exactly[0].length), of)
    return isExactable(part) ? { ...part, exact: true } : part
  }
  const list = /^(one of|any of|none of|all of)\s+/i.exec(text)
  if (list) {
    const values = readValues(after(piece, list[0].length), of)
    const word = list[1].toLowerCase()
    if (word === 'none of') return { kind: 'none-of', values }
    return { kind: word === 'all of' && of.field.type === 'tags' ? 'all-of' : 'one-of', values }
  }
  switch (of.field.type) {
    case 'text':
      return textPart(piece, of)
    case 'tags':
      return tagsPart(piece, of)
    case 'boolean':
      return truthPart(piece, of)
    default:
      return amountPart(piece, of)
  }
}

const after = ({ text, at }: Piece, length: number): Piece => {
  const rest = text.slice(length)
  return { text: rest.trim(), at: at + length + rest.length - rest.trimStart().length }
}

const refuse = ({ text, at }: Piece, { field }: PhraseOf): Unreadable =>
  new Unreadable({ code: 'not-a-value', text, type: field.type, from: at, to: at + text.length })

type Exactable = Extract<ConditionPart, { exact?: boolean | undefined }>
const isExactable = (part: ConditionPart): part is Exactable =>
  part.kind !== 'missing' && part.kind !== 'present' && part.kind !== 'own'

function ownPart(name: string, values: string, piece: Piece): ConditionPart {
  try {
    return {
      kind: 'own',
      name: String(JSON.parse(name)),
      values: values ? ownValuesSchema.parse(JSON.parse(values)) : null,
    }
  } catch {
    throw new Unreadable({ code: 'says-nothing', from: piece.at, to: piece.at + piece.text.length })
  }
}

/** The text that stands alone in quotation marks; null where it does not. */
function quoted(text: string): string | null {
  const match = STRING.exec(text)
  if (!match || match[0].length !== text.length) return null
  try {
    return String(JSON.parse(text))
  } catch {
    return null
  }
}

const KEYWORDS = ['contains', 'starts', 'ends', 'pattern'] as const

function textPart(piece: Piece, of: PhraseOf): ConditionPart {
  const { text } = piece
  const not = /^not\s+(?=\S)/i.exec(text)
  if (not) {
    const rest = after(piece, not[0].length).text
    const whole = quoted(rest)
    if (whole !== null) return { kind: 'differs', value: whole }
    const inner = /^contains\s+(.*)$/s.exec(rest)
    return { kind: 'excludes', text: (inner && quoted(inner[1])) ?? rest }
  }
  const pattern = /^\/(.+)\/$/s.exec(text)
  if (pattern) return { kind: 'pattern', pattern: pattern[1] }
  for (const word of KEYWORDS) {
    const rest = text.startsWith(`${word} `) ? quoted(text.slice(word.length).trim()) : null
    if (!rest) continue
    return word === 'pattern' ? { kind: word, pattern: rest } : { kind: word, text: rest }
  }
  const whole = quoted(text)
  if (whole !== null) return { kind: 'equals', value: whole }
  if (/^("(?:[^"\\]|\\.)*"|[^",]+),\s*\S/s.test(text))
    return { kind: 'one-of', values: readValues(piece, of) }
  const opened = (end: string): string => quoted(end.trim()) ?? end.trim()
  if (text.length > 2 && text.endsWith('..')) return { kind: 'starts', text: opened(text.slice(0, -2)) }
  if (text.length > 2 && text.startsWith('..')) return { kind: 'ends', text: opened(text.slice(2)) }
  if (/^=\s*\S/.test(text)) return { kind: 'equals', value: text.slice(1).trim() }
  return { kind: 'contains', text }
}

function tagsPart(piece: Piece, of: PhraseOf): ConditionPart {
  const not = /^not\s+(?=\S)/i.exec(piece.text)
  const values = readValues(not ? after(piece, not[0].length) : piece, of)
  return { kind: not ? 'none-of' : 'one-of', values }
}

function truthPart(piece: Piece, of: PhraseOf): ConditionPart {
  const sign = /^(not\s+|!=\s*|=\s*)(?=\S)/i.exec(piece.text)
  const truth = truthOf(sign ? after(piece, sign[0].length) : piece, of)
  const isTurned = sign !== null && !sign[0].startsWith('=')
  return { kind: 'equals', value: isTurned ? !truth : truth }
}

function truthOf(piece: Piece, of: PhraseOf): boolean {
  const word = (quoted(piece.text) ?? piece.text).toLowerCase()
  const { title, yes = 'yes', no = 'no' } = of
  // The column's own words come first: one whose word for no is “on” means that.
  if (word === no.toLowerCase()) return false
  if (word === yes.toLowerCase()) return true
  if (word === 'no' || word === 'false') return false
  if (word === 'yes' || word === 'true' || word === title?.toLowerCase()) return true
  throw refuse(piece, of)
}

const SIGNS = {
  '>=': 'at-least',
  '≥': 'at-least',
  '<=': 'at-most',
  '≤': 'at-most',
  '>': 'above',
  '<': 'below',
} as const

function amountPart(piece: Piece, of: PhraseOf): ConditionPart {
  const { text } = piece
  const sign = /^(>=|<=|≥|≤|>|<)\s*(?=\S)/.exec(text)
  if (sign) {
    const value = readAmount(after(piece, sign[0].length), of)
    return { kind: isKeyOf(SIGNS, sign[1]) ? SIGNS[sign[1]] : 'above', value }
  }
  const not = /^(not\s+|!=\s*)(?=\S)/i.exec(text)
  if (not) return { kind: 'differs', value: readAmount(after(piece, not[0].length), of) }
  const calendar = calendarPart(text, of)
  if (calendar) return calendar
  const range = /^(.*?)\s*\.\.\s*(.*)$/s.exec(text)
  if (range && (range[1] || range[2])) return rangePart(range[1], range[2], piece, of)
  if (text.startsWith('=')) return { kind: 'equals', value: readAmount(after(piece, 1), of) }
  if (text.includes(',')) {
    const values = readValues(piece, of)
    // The comma of one number parts nothing.
    if (values.length > 1 || numberSignsOf(of) === null) return { kind: 'one-of', values }
  }
  return { kind: 'equals', value: readAmount(piece, of) }
}

function rangePart(from: string, to: string, piece: Piece, of: PhraseOf): ConditionPart {
  const ends = {
    ...(from ? { from: readAmount({ text: from, at: piece.at }, of) } : {}),
    ...(to ? { to: readAmount({ text: to, at: piece.at + piece.text.length - to.length }, of) } : {}),
  }
  const [low, high] = [ends.from, ends.to].map(
    end => end !== undefined && spanOf(end, { field: of.field, clock: ANY_CLOCK }),
  )
  if (low && high && compareBounds(low.from, high.to) > 0) {
    const { at, text } = piece
    throw new Unreadable({ code: 'turned-round', text, from: at, to: at + text.length })
  }
  return { kind: 'range', ...ends }
}

function calendarPart(text: string, { field }: PhraseOf): ConditionPart | null {
  if (field.type !== 'date' && field.type !== 'datetime') return null
  const word = text.toLowerCase()
  if (isKeyOf(NEAR_DAYS, word)) return { kind: 'relative', which: NEAR_DAYS[word], unit: 'day' }
  const match = /^(this|last|next)\s+(?:(\d{1,4})\s+)?(day|week|month|quarter|year)s?$/.exec(word)
  if (!match || (match[1] === 'this' && match[2])) return null
  const [, which, digits, unit] = match
  const count = Number(digits)
  if (digits && count < 1) return null
  if (!isOneOf(RELATIVES, which) || !isOneOf(CALENDAR_UNITS, unit)) return null
  return { kind: 'relative', which, unit, ...(digits ? { count } : {}) }
}

/** A number as a number where that loses nothing, everything else as the text it is. */
function readAmount(piece: Piece, of: PhraseOf): Amount {
  const signs = numberSignsOf(of)
  const given = quoted(piece.text) ?? piece.text
  const text = signs ? plainDigits(given, signs) : given
  if (!spanOf(text, { field: of.field, clock: ANY_CLOCK })) throw refuse({ ...piece, text }, of)
  if (of.field.type !== 'integer' && of.field.type !== 'number') return text
  const number = Number(text)
  const isTold = !of.field.wide || isToldByDouble(plainNumber(text) ?? text)
  // JSON has no infinity.
  return isTold && Number.isFinite(number) ? number : text
}

const numberSignsOf = ({ field, format }: PhraseOf): NumberSigns | null =>
  format && (field.type === 'integer' || field.type === 'number') ? numberSigns(format) : null

function readValues(piece: Piece, of: PhraseOf): (string | number | boolean)[] {
  const values: (string | number | boolean)[] = []
  for (let rest = piece; ;) {
    const string = STRING.exec(rest.text)
    const signs = numberSignsOf(of)
    // A comma within a number parts nothing.
    const number = signs ? leadingNumber(rest.text, signs).length : 0
    const length = string
      ? string[0].length
      : number + (/^[^,]*/.exec(rest.text.slice(number))?.[0].length ?? 0)
    const one: Piece = { text: rest.text.slice(0, length).trim(), at: rest.at }
    if (one.text === '') throw new Unreadable({ code: 'says-nothing', from: rest.at, to: rest.at + length })
    values.push(readValue(one, of))
    const behind = after(rest, length)
    if (behind.text === '') return values
    if (!behind.text.startsWith(',')) throw refuse(behind, of)
    rest = after(behind, 1)
  }
}

function readValue(piece: Piece, of: PhraseOf): string | number | boolean {
  if (of.field.type === 'text' || of.field.type === 'tags') return quoted(piece.text) ?? piece.text
  return of.field.type === 'boolean' ? truthOf(piece, of) : readAmount(piece, of)
}

/**
 * The condition as the short phrase that reads back as the same. Only what has two ways to be written in JSON comes
 * back as the one the phrase has: a date given as a number, `any` of a single part.
 */
export function printPhrase(condition: Condition, of: PhraseOf): string {
  const alone = condition.parts.length === 1
  return condition.parts
    .map(part => printPart(part, of, alone))
    .join(condition.match === 'any' ? ' or ' : ' and ')
}

function printPart(part: ConditionPart, of: PhraseOf, alone: boolean): string {
  const { type } = of.field
  const exactly = (type === 'text' || type === 'tags') && 'exact' in part && part.exact ? 'exactly ' : ''
  const plain = bareText(part, of)
  // The short way where it says just this, else the one that leaves nothing open.
  if (plain !== null && (alone || !/\b(and|or)\b/i.test(plain)) && !/["“”/]/.test(plain)) {
    const read = readPhrase(exactly + plain, of)
    if (read.ok && same(read.condition, part)) return exactly + plain
  }
  return exactly + kindNamed(part.kind).phrase(part, writerOf(of))
}

const writerOf = (of: PhraseOf): PhraseWriter => ({
  field: of.field,
  value: given => printValue(given, of),
  quoted: quote,
  json: value => escaped(JSON.stringify(value)),
})

function bareText(part: ConditionPart, { field }: PhraseOf): string | null {
  if (part.kind === 'contains') return part.text
  if (part.kind === 'excludes') return `not ${part.text}`
  if (part.kind === 'starts') return `${part.text}..`
  if (part.kind === 'ends') return `..${part.text}`
  const texts = field.type === 'text' || field.type === 'tags'
  if (!texts || part.kind !== 'one-of') return null
  return part.values.some(value => /[,"\\]/.test(String(value))) ? null : part.values.join(', ')
}

const same = ({ parts }: Condition, part: ConditionPart): boolean =>
  parts.length === 1 && key(parts[0]) === key(part)

const key = (part: ConditionPart): string =>
  JSON.stringify(
    Object.entries(part)
      .filter(([, value]) => value !== undefined && value !== false)
      .sort(),
  )

/** A number with the column's decimal sign, so that it is read back as the same. */
export function writtenAmount(value: string | number, of: PhraseOf): string {
  const { decimal } = numberSignsOf(of) ?? { decimal: '.' }
  return /^[-+]?\d+\.\d+$/.test(String(value)) ? String(value).replace('.', decimal) : String(value)
}

function printValue(value: string | number | boolean, of: PhraseOf): string {
  const { field, yes = 'yes', no = 'no' } = of
  const { type } = field
  if (type === 'text' || type === 'tags') return quote(String(value))
  if (typeof value === 'boolean') return value ? yes : no
  if (type === 'integer' || type === 'number') return writtenAmount(value, of)
  if (typeof value === 'string') return value
  if (type === 'date') return isoDay(value)
  if (type === 'time') return preciseClock(value)
  if (type === 'datetime')
    return `${isoDay(Math.floor(value / DAY_MS))}T${preciseClock(value)}${field.zoned ? 'Z' : ''}`
  return String(value)
}

const preciseClock = (ms: number): string => {
  const clock = isoClock(ms)
  return clock.includes('.') ? clock : `${clock}.000`
}

/** Curly quotation marks are read as straight ones, so that within a text they are written as escapes. */
const escaped = (json: string): string =>
  json.replace(/[“”]/g, mark => `\\u${mark.charCodeAt(0).toString(16)}`)

const quote = (text: string): string => escaped(JSON.stringify(text))
