import { columnBytes, type Column, type Table } from '../table/column.ts'

/** Texts that are made ready before anybody searches them take no more than this; the others are made when they are searched. */
const MOST_BYTES = 256 << 20
/** A shown number, date or moment and its place, about. */
const SHOWN_BYTES = 18

/**
 * The columns whose texts are made ready for searches while nothing else is to be done, of those that are searched:
 * texts first, because a word with a letter is looked for in them alone.
 */
export function columnsAhead({ fields, columns, rows }: Table, searched: readonly string[]): string[] {
  const wanted = new Set(searched)
  const places = fields.flatMap(({ key, internal }, place) => (!internal && wanted.has(key) ? [place] : []))
  const inOrder = [
    ...places.filter(place => fields[place].type === 'text'),
    ...places.filter(place => fields[place].type !== 'text'),
  ]
  let bytes = 0
  return inOrder.flatMap(place => {
    bytes += indexBytes(columns[place], rows)
    return bytes > MOST_BYTES ? [] : [fields[place].key]
  })
}

/** What the texts of a column take at most, about. */
function indexBytes(column: Column, rows: number): number {
  switch (column.kind) {
    case 'coded':
      return column.texts.bytes.length
    case 'plain':
      return columnBytes(column)
    case 'boolean':
      return rows * 4
    default:
      return rows * SHOWN_BYTES
  }
}
