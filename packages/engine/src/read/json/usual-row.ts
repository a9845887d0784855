import { SAFE_DIGITS } from '../../table/digits.ts'
import type { KeyNode } from '../columns/row-columns.ts'
import { MAX_DEPTH } from '../columns/nesting.ts'
import { POWERS } from '../types/parse-field.ts'
import { LIST, QUOTE, scanValue, skipSpace } from './scan-json.ts'

/** A number whose value is known already; that of others is read from its bytes. */
export const KNOWN = 6
const [OPEN_BRACE, CLOSE_BRACE, OPEN_LIST, COMMA, COLON, BACKSLASH] = [123, 125, 91, 44, 58, 92] as const
const [MINUS, POINT, ZERO, NINE, SPACE] = [45, 46, 48, 57, 32] as const

/**
 * A row that is like those before: the same keys in the same order, though not all of them. Each key is compared with the one that is expected,
 * and each value checked and taken in one go, which spares nearly all rows a second look at their bytes.
 */
export class UsualRow {
  /** Its values in their order: where each belongs, of which kind it is, where it stands, and of numbers what they are. */
  count = 0
  readonly nodes: KeyNode[] = []
  readonly kinds: number[] = []
  readonly starts: number[] = []
  readonly ends: number[] = []
  readonly values: number[] = []
  readonly decimals: number[] = []
  private bytes: Uint8Array = new Uint8Array(0)
  private view = new DataView<ArrayBufferLike>(new ArrayBuffer(0))
  private end = 0

  /**
   * Takes the object that begins at `at`; returns where it ends, or −1 where it is not as expected, goes on behind `end`,
   * or is no JSON, which are all for others to find out.
   */
  take(root: KeyNode, bytes: Uint8Array, at: number, end: number): number {
    this.count = 0
    if (bytes !== this.bytes) this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length)
    this.bytes = bytes
    this.end = end
    return this.members(root, at + 1)
  }

  private members(node: KeyNode, from: number): number {
    const { bytes, end } = this
    const { children } = node
    let at = bytes[from] <= SPACE ? skipSpace(bytes, from, end) : from
    for (const child of children) {
      const key = child.quoted
      const behind = at + key.length
      if (behind >= end) return -1
      if (this.isMember(child.words, at, behind - 3)) at = behind
      else {
        // A key that is left out in this row is passed over.
        if (!this.isAt(key, at)) continue
        at = bytes[behind] <= SPACE ? skipSpace(bytes, behind, end) : behind
        if (bytes[at] !== COLON) return -1
      }
      at = this.value(child, at + 1)
      if (at < 0) return -1
      if (bytes[at] <= SPACE) at = skipSpace(bytes, at, end)
      if (at >= end) return -1
      if (bytes[at] === CLOSE_BRACE) return at + 1
      if (bytes[at] !== COMMA) return -1
      at++
      if (bytes[at] <= SPACE) at = skipSpace(bytes, at, end)
    }
    return -1
  }

  /** Whether a key and its colon stand there, without space between them; `last`: where their last four bytes begin. */
  private isMember(words: Int32Array, at: number, last: number): boolean {
    const { view } = this
    const end = words.length - 1
    for (let i = 0; i < end; i++, at += 4) if (view.getInt32(at, true) !== words[i]) return false
    return end >= 0 && view.getInt32(last, true) === words[end]
  }

  private isAt(key: Uint8Array, at: number): boolean {
    const { bytes } = this
    for (let i = 0; i < key.length; i++) if (bytes[at + i] !== key[i]) return false
    return true
  }

  private value(node: KeyNode, from: number): number {
    const { bytes, end } = this
    const at = bytes[from] <= SPACE ? skipSpace(bytes, from, end) : from
    const first = bytes[at]
    if (first === QUOTE) return this.text(node, at)
    if (first === MINUS || (first >= ZERO && first <= NINE)) return this.number(node, at)
    if (first === OPEN_BRACE) return node.depth < MAX_DEPTH ? this.members(node, at + 1) : -1
    const behind = scanValue(bytes, at, end, false)
    if (behind < 0) return -1
    this.add(node, first === OPEN_LIST ? LIST : first, at, behind)
    return behind
  }

  private text(node: KeyNode, from: number): number {
    const { bytes, end } = this
    for (let at = from + 1; at < end; at++) {
      const byte = bytes[at]
      if (byte === QUOTE) {
        this.add(node, QUOTE, from, at + 1)
        return at + 1
      }
      if (byte < SPACE || byte === BACKSLASH) return -1
    }
    return -1
  }

  private number(node: KeyNode, from: number): number {
    const { bytes, end } = this
    const first = bytes[from] === MINUS ? from + 1 : from
    let at = first
    let point = 0
    // The first nine digits fit into a whole number of the machine, which is the quicker way.
    let small = 0
    for (const most = Math.min(end, first + 9); at < most; at++) {
      const digit = bytes[at] - ZERO
      if (digit >= 0 && digit <= 9) small = (Math.imul(small, 10) + digit) | 0
      else if (digit === POINT - ZERO && point === 0 && at > first) point = at
      else break
    }
    let mantissa = small
    if (at === first + 9)
      for (; at < end; at++) {
        const digit = bytes[at] - ZERO
        if (digit >= 0 && digit <= 9) mantissa = mantissa * 10 + digit
        else if (digit === POINT - ZERO && point === 0) point = at
        else break
      }
    const wholeEnd = point === 0 ? at : point
    const decimals = point === 0 ? 0 : at - point - 1
    // What stands behind decides whether it is whole: an exponent, or digits that have not come yet.
    if (at >= end || (bytes[at] | 32) === 101 || at - first > SAFE_DIGITS) return this.otherNumber(node, from)
    if (wholeEnd === first || (bytes[first] === ZERO && wholeEnd > first + 1)) return -1
    if (point !== 0 && decimals === 0) return -1
    const nth = this.add(node, KNOWN, from, at)
    const size = decimals === 0 ? mantissa : mantissa / POWERS[decimals]
    this.values[nth] = first > from ? -size : size
    this.decimals[nth] = decimals
    return at
  }

  private otherNumber(node: KeyNode, from: number): number {
    const behind = scanValue(this.bytes, from, this.end, false)
    if (behind < 0) return -1
    this.add(node, this.bytes[from], from, behind)
    return behind
  }

  private add(node: KeyNode, kind: number, start: number, end: number): number {
    const nth = this.count++
    this.nodes[nth] = node
    this.kinds[nth] = kind
    this.starts[nth] = start
    this.ends[nth] = end
    return nth
  }
}
