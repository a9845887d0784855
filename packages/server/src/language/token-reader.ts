import { QuestionError } from './problem.ts'
import { tokensOf, type Token } from './tokens.ts'

/** Deeper than this no question of a grid is; without a bound a line of brackets would use up the stack. */
const MOST_DEPTH = 200
/** Longer than this no question is read. */
const MOST_LENGTH = 200_000

/** Reads the tokens of one query option one after another. */
export class TokenReader {
  readonly option: string
  private readonly tokens: readonly Token[]
  private place = 0
  private depth = 0

  constructor(text: string, option: string) {
    if (text.length > MOST_LENGTH) throw new QuestionError({ code: 'too-long' })
    this.option = option
    this.tokens = tokensOf(text, option)
  }

  get next(): Token {
    return this.tokens[this.place]
  }

  get afterNext(): Token {
    return this.tokens[Math.min(this.place + 1, this.tokens.length - 1)]
  }

  take(): Token {
    const token = this.next
    if (token.kind !== 'end') this.place++
    return token
  }

  /** Whether a sign or a word comes next; it is taken then. */
  takeIf(text: string): boolean {
    if (!this.isNext(text)) return false
    this.place++
    return true
  }

  isNext(text: string): boolean {
    const { kind, text: next } = this.next
    return next === text && (kind === 'sign' || kind === 'name')
  }

  expect(text: string): void {
    if (!this.takeIf(text)) this.fail()
  }

  name(): string {
    if (this.next.kind !== 'name') this.fail()
    return this.take().text
  }

  end(): void {
    if (this.next.kind !== 'end') this.fail()
  }

  fail(): never {
    const { at, text } = this.next
    throw new QuestionError({ code: 'unreadable', option: this.option, at, near: text.slice(0, 20) })
  }

  /** Reads something that may hold itself. */
  within<T>(read: () => T): T {
    if (++this.depth > MOST_DEPTH)
      throw new QuestionError({ code: 'too-deep', option: this.option, most: MOST_DEPTH })
    const result = read()
    this.depth--
    return result
  }

  /** Things between commas, at least one. */
  list<T>(read: () => T): T[] {
    const all = [read()]
    while (this.takeIf(',')) all.push(read())
    return all
  }
}
