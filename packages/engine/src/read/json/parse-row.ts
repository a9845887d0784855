import { decodeBytes } from '../../table/text-block.ts'
import { plainNumber } from '../../table/digits.ts'
import { MAX_DEPTH, MAX_FIELDS, type KeyNode, type RowColumns } from '../columns/row-columns.ts'
import type { ValueColumn } from '../columns/value-column.ts'
import { ReadError } from '../read-call.ts'
import { INTEGER, NUMBER, parsed, parseField } from '../types/parse-field.ts'
import { scanValue, skipSpace } from './scan-json.ts'

const QUOTE = 34
const BACKSLASH = 92

/**
 * Writes rows of checked JSON straight into columns, without making objects of them. Every method takes the place of a
 * value's first byte and returns the place behind its last.
 */
export class JsonRowParser {
  private readonly columns: RowColumns
  private bytes: Uint8Array = new Uint8Array(0)
  private line = 0
  /** Behind the key that was read last. */
  private keyEnd = 0
  /** Values of the last list. */
  listLength = 0
  /** Whether the last string holds an escape. */
  private escaped = false

  constructor(columns: RowColumns) {
    this.columns = columns
  }

  /** An object: its keys are fields, those of objects inside it by their path. */
  object(bytes: Uint8Array, at: number, line: number): number {
    this.bytes = bytes
    this.line = line
    const end = this.members(at + 1, this.columns.root)
    this.columns.endRow()
    return end
  }

  /** A list: its values belong to the given fields, those beyond them to `column 5` and so on. */
  list(bytes: Uint8Array, at: number, names: readonly string[], line: number): number {
    this.bytes = bytes
    this.line = line
    at = this.space(at + 1)
    let i = 0
    for (; bytes[at] !== 93; i++) {
      at = this.value(at, this.columns.root.child(names[i] ?? `column ${i + 1}`))
      at = this.space(at)
      if (bytes[at] === 44) at = this.space(at + 1)
    }
    this.listLength = i
    this.columns.endRow()
    return at + 1
  }

  private members(at: number, node: KeyNode): number {
    const { bytes } = this
    at = this.space(at)
    for (let nth = 0; bytes[at] !== 125; nth++) {
      const child = this.keyed(node, nth, at)
      at = this.value(this.space(this.space(this.keyEnd) + 1), child)
      at = this.space(at)
      if (bytes[at] === 44) at = this.space(at + 1)
    }
    return at + 1
  }

  /** The node of the key that opens at `at`; usually the one that stood at this place in the row before. */
  private keyed(node: KeyNode, nth: number, at: number): KeyNode {
    const expected = node.children[nth]
    if (expected && this.isKey(expected.bytes, at + 1)) {
      this.keyEnd = at + expected.bytes.length + 2
      return expected
    }
    this.keyEnd = this.stringEnd(at)
    return node.child(this.text(at + 1, this.keyEnd - 1))
  }

  private isKey(key: Uint8Array, start: number): boolean {
    const { bytes } = this
    for (let i = 0; i < key.length; i++) if (bytes[start + i] !== key[i]) return false
    return bytes[start + key.length] === QUOTE
  }

  private value(at: number, node: KeyNode): number {
    const { bytes } = this
    const first = bytes[at]
    if (first === 123 && node.depth < MAX_DEPTH) return this.members(at + 1, node)
    const end = this.valueEnd(first, at)
    const column = this.column(node)
    if (!column) return end
    switch (first) {
      case 34:
        this.addString(column, at + 1, end - 1, this.escaped)
        break
      case 116:
      case 102:
        column.addBoolean(first === 116)
        break
      case 110:
        column.addMissing()
        break
      case 91:
        this.addList(column, at, end)
        break
      case 123:
        column.addText(decodeBytes(bytes, at, end))
        break
      default:
        this.addNumber(column, at, end)
    }
    return end
  }

  /** null: the row has named the field before. */
  private column(node: KeyNode): ValueColumn | null {
    const { columns } = this
    if (!node.column && columns.fieldCount >= MAX_FIELDS) {
      const facts = { line: this.line, fields: columns.fieldCount + 1, most: MAX_FIELDS }
      throw new ReadError({ code: 'too-many-fields', ...facts })
    }
    const column = columns.columnAt(node)
    if (column.rows === columns.rows) return column
    columns.doubledKeys++
    return null
  }

  private addString(column: ValueColumn, start: number, end: number, escaped: boolean): void {
    if (start === end) column.addMissing()
    else if (escaped) column.addText(this.text(start, end))
    else column.addTextBytes(this.bytes, start, end)
  }

  private addNumber(column: ValueColumn, start: number, end: number): void {
    const kind = parseField(this.bytes, start, end)
    if (kind === INTEGER || kind === NUMBER) {
      column.addNumber(parsed.value, parsed.decimals)
      return
    }
    const text = decodeBytes(this.bytes, start, end)
    const digits = plainNumber(text)
    if (digits === null) column.addText(text)
    else if (digits.includes('.')) column.addDigits(digits)
    else column.addBig(BigInt(digits))
  }

  private addList(column: ValueColumn, start: number, end: number): void {
    const list: unknown = JSON.parse(decodeBytes(this.bytes, start, end))
    if (!Array.isArray(list)) return
    if (list.length === 0) column.addMissing()
    else if (list.every(entry => typeof entry === 'string')) column.addTags(list)
    else column.addText(JSON.stringify(list))
  }

  /** The end of a value that was checked before, so that only its end need be found. */
  private valueEnd(first: number, at: number): number {
    const { bytes } = this
    switch (first) {
      case QUOTE:
        return this.stringEnd(at)
      case 116:
      case 110:
        return at + 4
      case 102:
        return at + 5
      case 91:
      case 123:
        return scanValue(bytes, at, bytes.length, true)
      default:
        // Behind a number stand a comma, a bracket or space; all others are its own.
        while (
          at < bytes.length &&
          bytes[at] > 32 &&
          bytes[at] !== 44 &&
          bytes[at] !== 93 &&
          bytes[at] !== 125
        )
          at++
        return at
    }
  }

  /** The place behind a string's closing quote; notes whether it holds an escape. */
  private stringEnd(at: number): number {
    const { bytes } = this
    this.escaped = false
    for (at++; bytes[at] !== QUOTE; at++) {
      if (bytes[at] !== BACKSLASH) continue
      this.escaped = true
      at++
    }
    return at + 1
  }

  /** The text of a string without its quotes. */
  private text(start: number, end: number): string {
    const raw = decodeBytes(this.bytes, start, end)
    return raw.includes('\\') ? String(JSON.parse(`"${raw}"`)) : raw
  }

  private space(at: number): number {
    return skipSpace(this.bytes, at, this.bytes.length)
  }
}
