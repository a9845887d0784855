import { plainValue } from '@vast-meadow/engine/editing'
import type { ColumnEdit, Condition, Field, Format, KeyValue, Value } from '@vast-meadow/engine'
import { fold } from '@vast-meadow/engine/client'
import type { Kernel } from '../../kernel/kernel.ts'

/** Values that are proposed at a time. */
const MOST = 200

/** The cell for which something is chosen. */
export interface ChoosingCell {
  readonly field: Field
  readonly format: Format
  /** What its row has, or is to have. */
  value(column: string): Value
  /** What names its row; null: it is new, or not known yet. */
  readonly key: KeyValue
}

/** What can be chosen for a cell, by what is typed; null: nothing is proposed. */
export function choicesOf(
  kernel: Kernel,
  { choices }: ColumnEdit,
  cell: ChoosingCell,
): ((search: string) => Promise<readonly string[]>) | null {
  const { model } = kernel
  const { field, format } = cell
  const { yes = 'yes', no = 'no' } = format
  if (Array.isArray(choices))
    return search => Promise.resolve(holding(choices.map(String), lastOf(search, field)))
  if (choices && 'of' in choices) {
    const { of, like } = choices
    return async search => {
      // All rows, whatever is arranged, but for those that are not like this one: what is held back can be chosen too.
      const conditions = Object.fromEntries(
        like.flatMap(column => {
          const alike = model.fieldOf(column)
          const condition = alike && sameAs(cell.value(column), alike)
          return condition ? [[column, condition]] : []
        }),
      )
      const request = model.requestOfRows({ conditions, where: '', search: '' })
      const told = await model.ask('facets', {
        request,
        column: of,
        limit: MOST,
        holding: lastOf(search, field),
      })
      return (told?.values ?? []).map(({ shown }) => shown)
    }
  }
  if (choices && 'own' in choices) {
    const own = kernel.options.parts?.choices?.[choices.own]
    if (own) {
      const { key } = field
      return async search => {
        const values = Object.fromEntries(
          (model.definition?.columns ?? []).map(({ key: column }) => [column, cell.value(column)]),
        )
        const told = await own({ column: key, search: lastOf(search, field), key: cell.key, values })
        return told.map(String)
      }
    }
  }
  if (field.type === 'boolean') return search => Promise.resolve(holding([yes, no, ''], search))
  return null
}

/** The condition that rows have a value; null: it is missing, and narrows nothing. */
function sameAs(value: Value, field: Field): Condition | null {
  const { type } = field
  // Rows that have some of the same tags are not like one another.
  if (value === null || value === '' || type === 'tags') return null
  const plain = plainValue(value, field)
  if (typeof plain === 'object') return null
  const exact = type === 'text' ? { exact: true } : {}
  return { match: 'all', parts: [{ kind: 'equals', value: plain, ...exact }] }
}

/** Of tags, the one that is being typed. */
const lastOf = (search: string, { type }: Field): string =>
  type === 'tags' ? (search.split(',').at(-1) ?? '').trim() : search

function holding(choices: readonly string[], search: string): string[] {
  const word = fold(search.trim())
  return choices.filter(choice => fold(choice).includes(word)).slice(0, MOST)
}
