import { readPhrase, writtenAmount } from '@vast-meadow/engine/client'
import type { ConditionKindName, ConditionPart, PhraseOf } from '@vast-meadow/engine'

/** What an editor of a part is made of: how many texts are typed, and whether case can be made to count. */
export interface PartFields {
  readonly texts: 0 | 1 | 2
  readonly exact: boolean
  readonly calendar: boolean
  readonly truth: boolean
}

const NONE: PartFields = { texts: 0, exact: false, calendar: false, truth: false }

/** The fields that a kind of part is edited with. */
export function fieldsOf(kind: ConditionKindName, { field }: PhraseOf): PartFields {
  const texted = field.type === 'text' || field.type === 'tags'
  switch (kind) {
    case 'missing':
    case 'present':
    case 'own':
      return NONE
    case 'relative':
      return { ...NONE, calendar: true }
    case 'range':
      return { ...NONE, texts: 2 }
    case 'equals':
    case 'differs':
      return field.type === 'boolean' ? { ...NONE, truth: true } : { ...NONE, texts: 1, exact: texted }
    default:
      return { ...NONE, texts: 1, exact: texted }
  }
}

/** The texts that a part is edited as, numbers as the column writes them. */
export function textsOf(part: ConditionPart, of: PhraseOf): string[] {
  const numeric = of.field.type === 'integer' || of.field.type === 'number'
  const said = (value: string | number | boolean): string =>
    numeric && typeof value !== 'boolean' ? writtenAmount(value, of) : String(value)
  switch (part.kind) {
    case 'pattern':
      return [part.pattern]
    case 'range':
      return [part.from, part.to].map(end => (end === undefined ? '' : said(end)))
    case 'one-of':
    case 'none-of':
    case 'all-of':
      return [
        part.values
          .map(value => (!numeric && /[,"]/.test(String(value)) ? JSON.stringify(value) : said(value)))
          .join(', '),
      ]
    default:
      if ('text' in part) return [part.text]
      return 'value' in part ? [said(part.value)] : []
  }
}

/** A part from what was typed; null where that is not enough, or cannot be read. */
export function partFrom(
  kind: ConditionKindName,
  texts: readonly string[],
  exact: boolean,
  of: PhraseOf,
): ConditionPart | null {
  const [first = '', second = ''] = texts
  const more = exact ? { exact } : {}
  switch (kind) {
    case 'missing':
    case 'present':
      return { kind }
    case 'relative':
    case 'own':
      return null
    case 'contains':
    case 'excludes':
    case 'starts':
    case 'ends':
      return first === '' ? null : { kind, text: first, ...more }
    case 'pattern':
      return first === '' ? null : { kind, pattern: first, ...more }
    case 'equals':
    case 'differs': {
      const value = of.field.type === 'text' ? first : valueOf(first, of)
      return value === null || value === '' ? null : { kind, value, ...more }
    }
    case 'range': {
      const [from, to] = [first, second].map(text => (text.trim() ? amountOf(text, of) : undefined))
      if (from === null || to === null || (from === undefined && to === undefined)) return null
      return { kind, ...(from === undefined ? {} : { from }), ...(to === undefined ? {} : { to }) }
    }
    case 'one-of':
    case 'none-of':
    case 'all-of': {
      const values = valuesOf(first, of)
      return values && { kind, values, ...more }
    }
    default: {
      const value = amountOf(first, of)
      return value === null ? null : { kind, value }
    }
  }
}

const only = (phrase: string, of: PhraseOf): ConditionPart | null => {
  const read = readPhrase(phrase, of)
  return read.ok && read.condition.parts.length === 1 ? read.condition.parts[0] : null
}

function valueOf(text: string, of: PhraseOf): string | number | boolean | null {
  const part = only(`one of ${text}`, of)
  return part?.kind === 'one-of' && part.values.length === 1 ? part.values[0] : null
}

function amountOf(text: string, of: PhraseOf): string | number | null {
  const value = valueOf(text, of)
  return typeof value === 'boolean' ? null : value
}

function valuesOf(text: string, of: PhraseOf): (string | number | boolean)[] | null {
  const part = text.trim() ? only(`one of ${text}`, of) : null
  return part?.kind === 'one-of' ? part.values : null
}
