import type { ColumnEdit } from './edit-schema.ts'
import { readTyped } from './read-typed.ts'
import type { Field, Value } from '../table/column.ts'
import { compareDigits } from '../table/digits.ts'
import { tagsOf } from '../table/shown-text.ts'
import type { CheckProblem } from './check-problem.ts'

/**
 * What is wrong with a value by the checks that need nothing but it; null: nothing. `tagsOf`-texts and whole numbers of
 * 64 bits come as the table gives them out.
 */
export function checkValue(value: Value, edit: ColumnEdit, field: Field): CheckProblem | null {
  if (value === null || value === '') return edit.required ? { code: 'required' } : null
  switch (field.type) {
    case 'integer':
    case 'number':
      if (edit.whole && !isWhole(value)) return { code: 'not-whole' }
      return boundProblem(value, edit, field) ?? choiceProblem(value, edit)
    case 'date':
    case 'time':
    case 'datetime':
      return boundProblem(value, edit, field)
    case 'text':
      return lengthProblem(String(value).length, edit, 'characters') ?? choiceProblem(value, edit)
    case 'tags': {
      const tags = tagsOf(String(value))
      const wrong = tags.map(tag => choiceProblem(tag, edit)).find(problem => problem !== null)
      return lengthProblem(tags.length, edit, 'tags') ?? wrong ?? null
    }
    case 'boolean':
      return null
  }
}

const isWhole = (value: Value): boolean =>
  typeof value === 'string' ? !value.includes('.') : Number.isInteger(value)

function boundProblem(value: Value, { least, most }: ColumnEdit, field: Field): CheckProblem | null {
  if (least !== undefined && isBelow(value, least, field)) return { code: 'below-least', least }
  if (most !== undefined && isBelow(most, value, field)) return { code: 'above-most', most }
  return null
}

/** A bound that says no value of the type bounds nothing; the definition's findings tell of it. */
function isBelow(a: Value, b: Value, field: Field): boolean {
  const [low, high] = [a, b].map(side => numberIn(side, field))
  if (low === null || high === null) return false
  return typeof low === 'string' || typeof high === 'string'
    ? compareDigits(String(low), String(high)) < 0
    : low < high
}

function numberIn(side: Value, field: Field): number | string | null {
  if (typeof side !== 'string') return Number(side)
  // Numbers that no double tells come as their digits.
  if (field.type === 'integer' || field.type === 'number') return side
  const read = readTyped(side, field, {})
  return read.ok ? Number(read.value) : null
}

function lengthProblem(
  length: number,
  { shortest, longest }: ColumnEdit,
  of: 'characters' | 'tags',
): CheckProblem | null {
  if (shortest !== undefined && length < shortest) return { code: 'too-short', shortest, of }
  if (longest !== undefined && length > longest) return { code: 'too-long', longest, of }
  return null
}

function choiceProblem(value: Value, { choices, onlyChoices }: ColumnEdit): CheckProblem | null {
  if (!Array.isArray(choices) || !onlyChoices) return null
  return choices.some(choice => String(choice) === String(value)) ? null : { code: 'not-a-choice' }
}
