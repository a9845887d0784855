import { decodeBytes } from '../../table/text-block.ts'
import { plainNumber } from '../../table/digits.ts'
import { MAX_FIELDS, type KeyNode, type RowColumns } from '../columns/row-columns.ts'
import type { ValueColumn } from '../columns/value-column.ts'
import { ReadError } from '../read-call.ts'
import { INTEGER, NUMBER, parsed, parseField } from '../types/parse-field.ts'
import { KNOWN, UsualRow } from './usual-row.ts'
import { CLOSE, ESCAPED, LIST, OPEN, QUOTE, TEXT, type JsonParts } from './scan-json.ts'

/** Writes rows of checked JSON straight into columns, without making objects of them, from the parts that were found in checking. */
export class JsonRowParser {
  private readonly columns: RowColumns
  private readonly parts: JsonParts
  private readonly row = new UsualRow()
  private bytes: Uint8Array = new Uint8Array(0)
  private line = (): number => 0
  /** The next part. */
  private next = 0
  /** Values of the last list. */
  listLength = 0

  /** `parts`: those of the row that is taken. */
  constructor(columns: RowColumns, parts: JsonParts) {
    this.columns = columns
    this.parts = parts
  }

  /** An object: its keys are fields, those of objects inside it by their path. `line`: where it stands, asked for when something is told. */
  object(bytes: Uint8Array, line: () => number): void {
    this.bytes = bytes
    this.line = line
    this.next = 1
    this.members(this.columns.root)
    this.columns.endRow()
  }

  /** Such an object that is like those before. Returns where it ends, or −1: it is not, and nothing is taken. */
  usual(bytes: Uint8Array, at: number, end: number, line: () => number): number {
    const { columns, row } = this
    const behind = row.take(columns.root, bytes, at, end)
    if (behind < 0) return -1
    this.bytes = bytes
    this.line = line
    const { nodes, kinds, starts, ends, values, decimals } = row
    for (let nth = 0; nth < row.count; nth++) {
      const column = this.column(nodes[nth])
      if (!column) continue
      if (kinds[nth] === KNOWN) column.addNumber(values[nth], decimals[nth])
      else this.add(column, kinds[nth], starts[nth], ends[nth])
    }
    columns.endRow()
    return behind
  }

  /** A list: its values belong to the given fields, those beyond them to `column 5` and so on. */
  list(bytes: Uint8Array, names: readonly string[], line: () => number): void {
    this.bytes = bytes
    this.line = line
    this.next = 1
    let i = 0
    for (; this.parts.kinds[this.next] !== CLOSE; i++)
      this.value(this.columns.root.child(names[i] ?? `column ${i + 1}`))
    this.listLength = i
    this.columns.endRow()
  }

  private members(node: KeyNode): void {
    const { kinds } = this.parts
    for (let nth = 0; kinds[this.next] !== CLOSE; nth++) this.value(this.keyed(node, nth))
    this.next++
  }

  /** The node of the next key; usually the one that stood at this place in the row before. */
  private keyed(node: KeyNode, nth: number): KeyNode {
    const { kinds, starts, ends } = this.parts
    const at = this.next++
    const expected = node.children[nth]
    const [start, end] = [starts[at], ends[at]]
    if (expected && this.isKey(expected.quoted, start, end)) return expected
    return node.child(this.text(start + 1, end - 1, kinds[at] === ESCAPED))
  }

  private isKey(key: Uint8Array, start: number, end: number): boolean {
    const { bytes } = this
    if (key.length !== end - start) return false
    for (let i = 0; i < key.length; i++) if (bytes[start + i] !== key[i]) return false
    return true
  }

  private value(node: KeyNode): void {
    const { kinds, starts, ends } = this.parts
    const at = this.next++
    const kind = kinds[at]
    if (kind === OPEN) {
      this.members(node)
      return
    }
    const column = this.column(node)
    if (!column) return
    this.add(column, kind, starts[at], ends[at])
  }

  private add(column: ValueColumn, kind: number, start: number, end: number): void {
    switch (kind) {
      case QUOTE:
        if (end - start === 2) column.addMissing()
        else column.addTextBytes(this.bytes, start + 1, end - 1)
        return
      case ESCAPED:
        column.addText(this.text(start + 1, end - 1, true))
        return
      case 116:
      case 102:
        column.addBoolean(kind === 116)
        return
      case 110:
        column.addMissing()
        return
      case LIST:
        this.addList(column, start, end)
        return
      case TEXT:
        column.addText(decodeBytes(this.bytes, start, end))
        return
      default:
        this.addNumber(column, start, end)
    }
  }

  /** null: the row has named the field before. */
  private column(node: KeyNode): ValueColumn | null {
    const { columns } = this
    if (!node.column && columns.fieldCount >= MAX_FIELDS) {
      const facts = { line: this.line(), fields: columns.fieldCount + 1, most: MAX_FIELDS }
      throw new ReadError({ code: 'too-many-fields', ...facts })
    }
    const column = columns.columnAt(node)
    if (column.rows === columns.rows) return column
    columns.doubledKeys++
    return null
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

  /** The text of a string without its quotes. */
  private text(start: number, end: number, isEscaped: boolean): string {
    const raw = decodeBytes(this.bytes, start, end)
    return isEscaped ? String(JSON.parse(`"${raw}"`)) : raw
  }
}
