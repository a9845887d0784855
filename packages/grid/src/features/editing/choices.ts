import type { ColumnEdit, Field, Format } from '@vast-meadow/engine'
import { fold } from '@vast-meadow/engine/client'
import type { Kernel } from '../../kernel/kernel.ts'

/** Values that are proposed at a time. */
const MOST = 200

/** What can be chosen for a cell, by what is typed; null: nothing is proposed. */
export function choicesOf(
  kernel: Kernel,
  { choices }: ColumnEdit,
  field: Field,
  { yes = 'yes', no = 'no' }: Format,
): ((search: string) => Promise<readonly string[]>) | null {
  const { model } = kernel
  if (Array.isArray(choices))
    return search => Promise.resolve(holding(choices.map(String), lastOf(search, field)))
  if (choices && !Array.isArray(choices)) {
    const { of } = choices
    return async search => {
      // All rows, whatever is arranged: what is held back can be chosen too.
      const request = { ...model.request(), conditions: {}, search: '', groups: [] }
      const told = await model.ask('facets', {
        request,
        column: of,
        limit: MOST,
        holding: lastOf(search, field),
      })
      return (told?.values ?? []).map(({ shown }) => shown)
    }
  }
  if (field.type === 'boolean') return search => Promise.resolve(holding([yes, no, ''], search))
  return null
}

/** Of tags, the one that is being typed. */
const lastOf = (search: string, { type }: Field): string =>
  type === 'tags' ? (search.split(',').at(-1) ?? '').trim() : search

function holding(choices: readonly string[], search: string): string[] {
  const word = fold(search.trim())
  return choices.filter(choice => fold(choice).includes(word)).slice(0, MOST)
}
