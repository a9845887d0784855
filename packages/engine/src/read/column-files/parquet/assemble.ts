import type { Page } from './pages.ts'
import { isList, isMap, isWrapper, type Node } from './schema.ts'

/** All entries of one column of a row group. */
export class Entries {
  private readonly pages: readonly Page[]
  private readonly raw: (stored: unknown) => unknown
  private readonly node: Node
  private page = 0
  private entry = 0
  private value = 0

  constructor(pages: readonly Page[], raw: (stored: unknown) => unknown, node: Node) {
    this.pages = pages.filter(({ entries }) => entries > 0)
    this.raw = raw
    this.node = node
  }

  /** Levels of the next entry; −1 and 0 behind the last. */
  get repetition(): number {
    const page = this.pages.at(this.page)
    return page ? (page.repetition?.[this.entry] ?? 0) : -1
  }

  get definition(): number {
    const page = this.pages.at(this.page)
    return page ? (page.definition?.[this.entry] ?? this.node.maxDefinition) : 0
  }

  /** Takes the next entry: its raw value, or null where it has none. */
  take(): unknown {
    const page = this.pages.at(this.page)
    if (!page) throw new RangeError('a column ends before its rows do')
    const isThere = this.definition === this.node.maxDefinition
    const stored = isThere ? page.values[this.value++] : null
    if (++this.entry === page.entries) {
      this.page++
      this.entry = this.value = 0
    }
    if (!isThere) return null
    return this.raw(page.dictionary ? page.dictionary[stored as number] : stored)
  }
}

/**
 * The next raw value of a field, put together from the entries of its columns by their levels (Melnik et al., “Dremel”,
 * 2010). `columns`: by number of column.
 */
export function assemble(node: Node, columns: readonly Entries[]): unknown {
  if (node.element.repetition === 'repeated') return repeated(node, columns, () => present(node, columns))
  return isAbsent(node, columns) ? pass(node, columns) : present(node, columns)
}

const isAbsent = ({ maxDefinition, column }: Node, columns: readonly Entries[]): boolean =>
  columns[column].definition < maxDefinition

/** Takes the entries that say that there is nothing. */
function pass({ column, columns: count }: Node, columns: readonly Entries[]): null {
  for (let i = column; i < column + count; i++) columns[i].take()
  return null
}

/** What stands in a node that is there; of a repeated one, one of its entries. */
function present(node: Node, columns: readonly Entries[]): unknown {
  const { element, children, column } = node
  if (children.length === 0) return columns[column].take()
  if (isList(element, children)) {
    const [entry] = children
    return repeated(entry, columns, () =>
      isWrapper(entry) ? assemble(entry.children[0], columns) : present(entry, columns),
    )
  }
  if (isMap(element, children)) {
    const [entry] = children
    return repeated(entry, columns, () => entry.children.map(child => assemble(child, columns)))
  }
  return children.map(child => assemble(child, columns))
}

function repeated(node: Node, columns: readonly Entries[], one: () => unknown): unknown[] {
  if (isAbsent(node, columns)) {
    pass(node, columns)
    return []
  }
  const first = columns[node.column]
  const list: unknown[] = []
  do list.push(one())
  while (first.repetition === node.maxRepetition)
  return list
}
