import { decodeBytes } from '../../table/text-block.ts'
import { MAX_DEPTH, MAX_FIELDS, type KeyNode, type RowColumns } from '../columns/row-columns.ts'
import type { ValueColumn } from '../columns/value-column.ts'
import { ReadError } from '../read-call.ts'
import { INTEGER, NUMBER, parsed, parseField } from '../types/parse-field.ts'
import { scanString, scanValue, skipSpace } from './scan-json.ts'

/**
 * Writes rows of checked JSON straight into columns, without making objects of them. Every method takes the place of a
 * value's first byte and returns the place behind its last.
 */
export class JsonRowParser {
  private readonly columns: RowColumns
  private bytes: Uint8Array = new Uint8Array(0)
  private line = 0

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
    for (let i = 0; bytes[at] !== 93; i++) {
      at = this.value(at, this.columns.root.child(names[i] ?? `column ${i + 1}`))
      at = this.space(at)
      if (bytes[at] === 44) at = this.space(at + 1)
    }
    this.columns.endRow()
    return at + 1
  }

  private members(at: number, node: KeyNode): number {
    const { bytes } = this
    at = this.space(at)
    for (let nth = 0; bytes[at] !== 125; nth++) {
      const keyEnd = scanString(bytes, at, bytes.length, true)
      const child = this.keyed(node, nth, at + 1, keyEnd - 1)
      at = this.value(this.space(this.space(keyEnd) + 1), child)
      at = this.space(at)
      if (bytes[at] === 44) at = this.space(at + 1)
    }
    return at + 1
  }

  /** The node of a key; usually the one that stood at this place in the row before. */
  private keyed(node: KeyNode, nth: number, start: number, end: number): KeyNode {
    const expected = node.children[nth]
    if (expected && this.isKey(expected.bytes, start, end)) return expected
    return node.child(this.text(start, end))
  }

  private isKey(key: Uint8Array, start: number, end: number): boolean {
    if (key.length !== end - start) return false
    const { bytes } = this
    for (let i = 0; i < key.length; i++) if (bytes[start + i] !== key[i]) return false
    return true
  }

  private value(at: number, node: KeyNode): number {
    const { bytes } = this
    const first = bytes[at]
    if (first === 123 && node.depth < MAX_DEPTH) return this.members(at + 1, node)
    const end = scanValue(bytes, at, bytes.length, true)
    const column = this.column(node)
    if (!column) return end
    switch (first) {
      case 34:
        this.addString(column, at + 1, end - 1)
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

  private addString(column: ValueColumn, start: number, end: number): void {
    if (start === end) column.addMissing()
    else if (this.hasEscape(start, end)) column.addText(this.text(start, end))
    else column.addTextBytes(this.bytes, start, end)
  }

  private addNumber(column: ValueColumn, start: number, end: number): void {
    const kind = parseField(this.bytes, start, end)
    if (kind === INTEGER || kind === NUMBER) return column.addNumber(parsed.value, parsed.decimals)
    const text = decodeBytes(this.bytes, start, end)
    if (/^-?\d+$/.test(text)) column.addBig(BigInt(text))
    else if (Number.isFinite(Number(text))) column.addNumber(Number(text), 0)
    else column.addText(text)
  }

  private addList(column: ValueColumn, start: number, end: number): void {
    const list = JSON.parse(decodeBytes(this.bytes, start, end)) as unknown[]
    if (list.length === 0) column.addMissing()
    else if (list.every(entry => typeof entry === 'string')) column.addTags(list)
    else column.addText(JSON.stringify(list))
  }

  private hasEscape(start: number, end: number): boolean {
    for (let i = start; i < end; i++) if (this.bytes[i] === 92) return true
    return false
  }

  /** The text of a string without its quotes. */
  private text(start: number, end: number): string {
    const raw = decodeBytes(this.bytes, start, end)
    return raw.includes('\\') ? (JSON.parse(`"${raw}"`) as string) : raw
  }

  private space(at: number): number {
    return skipSpace(this.bytes, at, this.bytes.length)
  }
}
