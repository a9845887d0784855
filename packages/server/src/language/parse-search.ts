import { QuestionError } from './problem.ts'

/** What is searched: words and phrases, joined. Words that follow one another are all wanted. */
export type SearchTerm =
  | { readonly kind: 'word'; readonly text: string }
  | { readonly kind: 'not'; readonly of: SearchTerm }
  | { readonly kind: 'and' | 'or'; readonly terms: readonly SearchTerm[] }

const MOST_TERMS = 64
const TOKEN = /\s*(?:"((?:[^"\\]|\\.)*)"|([()])|([^\s()"]+))/y

/** Reads the search expression of OData v4.01 part 2, 5.1.8. */
export function parseSearch(text: string): SearchTerm {
  const tokens: { readonly text: string; readonly quoted: boolean; readonly at: number }[] = []
  TOKEN.lastIndex = 0
  let at = 0
  const fail = (place: number): never => {
    throw new QuestionError({
      code: 'unreadable',
      option: '$search',
      at: place,
      near: text.slice(place, place + 20),
    })
  }
  while (text.slice(at).trim() !== '') {
    TOKEN.lastIndex = at
    const match = TOKEN.exec(text)
    if (!match || tokens.length > MOST_TERMS) return fail(at)
    const [whole, quoted, bracket, word] = match as (string | undefined)[]
    const inner = quoted === undefined ? (bracket ?? word ?? '') : quoted.replace(/\\(.)/g, '$1')
    tokens.push({ text: inner, quoted: quoted !== undefined, at })
    at += (whole ?? '').length
  }
  let place = 0
  const isNext = (word: string): boolean => {
    const token = tokens.at(place)
    return token !== undefined && place < tokens.length && !token.quoted && token.text === word
  }
  const readOr = (): SearchTerm => {
    const terms = [readAnd()]
    while (isNext('OR')) {
      place++
      terms.push(readAnd())
    }
    return terms.length === 1 ? terms[0] : { kind: 'or', terms }
  }
  const readAnd = (): SearchTerm => {
    const terms = [readTerm()]
    while (place < tokens.length && !isNext('OR') && !isNext(')')) {
      if (isNext('AND')) place++
      terms.push(readTerm())
    }
    return terms.length === 1 ? terms[0] : { kind: 'and', terms }
  }
  const readTerm = (): SearchTerm => {
    if (place >= tokens.length) return fail(text.length)
    if (isNext('NOT')) {
      place++
      return { kind: 'not', of: readTerm() }
    }
    if (isNext('(')) {
      place++
      const inner = readOr()
      if (!isNext(')')) return fail(tokens.at(place)?.at ?? text.length)
      place++
      return inner
    }
    const token = tokens[place++]
    if (!token.quoted && ['AND', 'OR', ')'].includes(token.text)) return fail(token.at)
    return { kind: 'word', text: token.text }
  }
  const term = readOr()
  if (place < tokens.length) return fail(tokens[place].at)
  return term
}
