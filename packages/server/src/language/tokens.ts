import { QuestionError } from './problem.ts'

export interface Token {
  readonly kind: 'name' | 'text' | 'number' | 'date' | 'time' | 'moment' | 'guid' | 'sign' | 'end'
  /** Without the quotes of a text, its doubled ones put right. */
  readonly text: string
  readonly at: number
}

const GUID = /[0-9a-fA-F]{8}(?:-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}(?![\w-])/y
const MOMENT = /-?\d{4,6}-\d\d-\d\dT\d\d:\d\d(?::\d\d(?:\.\d{1,12})?)?(?:Z|[-+]\d\d:\d\d)(?![\w:])/y
const DATE = /-?\d{4,6}-\d\d-\d\d(?![\w-])/y
const TIME = /\d\d:\d\d(?::\d\d(?:\.\d{1,12})?)?(?![\w:])/y
const NUMBER = /[-+]?(?:\d+(?:\.\d+)?(?:[eE][-+]?\d+)?|INF)(?![\w.])/y
/** A name may have parts: of a namespace, or of a path into a structure. */
const NAME =
  /[\p{L}\p{Nl}_@$][\p{L}\p{Nl}\p{Nd}\p{Mn}\p{Mc}\p{Pc}\p{Cf}]*(?:\.[\p{L}\p{Nl}_][\p{L}\p{Nl}\p{Nd}\p{Mn}\p{Mc}\p{Pc}\p{Cf}]*)*/uy
const TEXT = /'((?:[^']|'')*)'/y
const SIGN = /[(),:/=;*"-]/y

/** In the order in which they are tried: an earlier one would be taken for a later one and a rest. */
const KINDS = [
  ['guid', GUID],
  ['moment', MOMENT],
  ['date', DATE],
  ['time', TIME],
  ['name', NAME],
  ['number', NUMBER],
  ['sign', SIGN],
] as const

/** Cuts an expression into its tokens. Linear in its length. */
export function tokensOf(text: string, option: string): Token[] {
  const tokens: Token[] = []
  let at = 0
  const take = (pattern: RegExp): RegExpExecArray | null => {
    pattern.lastIndex = at
    return pattern.exec(text)
  }
  const put = (kind: Token['kind'], whole: string, inner = whole): void => {
    tokens.push({ kind, text: inner, at })
    at += whole.length
  }
  while (at < text.length) {
    if (/\s/.test(text[at])) {
      at++
      continue
    }
    const quoted = take(TEXT)
    if (quoted) {
      put('text', quoted[0], quoted[1].replaceAll("''", "'"))
      continue
    }
    const found = KINDS.some(([kind, pattern]) => {
      const match = take(pattern)
      if (match) put(kind, match[0])
      return match !== null
    })
    if (!found) throw new QuestionError({ code: 'unreadable', option, at, near: text.slice(at, at + 20) })
  }
  tokens.push({ kind: 'end', text: '', at })
  return tokens
}
