import { checkKeyOf } from '../definition/binding.ts'
import type { Definition } from '../definition/definition.ts'
import { fieldReference } from '../expression/field-reference.ts'
import type { CheckProblem } from './check-problem.ts'

/** A check by expression: where it is not true, so much is said of these cells. */
export interface CheckRule {
  readonly key: string
  readonly expression: string
  /** The cells at which it is said; none: of the row. */
  readonly fields: readonly string[]
  readonly problem: CheckProblem
  /** It says nothing of rows that have no value in its own cell. */
  readonly onlyPresent: boolean
}

/** What a definition asks of rows beyond what a value alone can be asked. */
export interface RowRules {
  readonly rules: readonly CheckRule[]
  /** Fields in which no two rows may have the same value. */
  readonly unique: readonly string[]
  /** Fields whose values must be those that another field has in some row. */
  readonly amongValuesOf: readonly { readonly field: string; readonly of: string }[]
}

export function rowRules({ columns, editing, key: keyFields }: Definition): RowRules {
  const rules: CheckRule[] = []
  const add = (rule: Omit<CheckRule, 'key'>): void =>
    void rules.push({ ...rule, key: checkKeyOf(rules.length) })
  for (const { key, edit } of columns) {
    if (!edit) continue
    const says = edit.says ?? null
    if (edit.pattern !== undefined)
      add({
        expression: `string(${fieldReference(key)}).matches(${JSON.stringify(edit.pattern)})`,
        fields: [key],
        problem: { code: 'not-matching', pattern: edit.pattern, says },
        onlyPresent: true,
      })
    if (edit.check !== undefined)
      add({
        expression: edit.check,
        fields: [key],
        problem: { code: 'not-holding', expression: edit.check, says },
        onlyPresent: true,
      })
  }
  for (const { holds, says, columns: fields } of editing.checks)
    add({
      expression: holds,
      fields,
      problem: { code: 'not-holding', expression: holds, says },
      onlyPresent: false,
    })
  const edited = columns.flatMap(({ key, edit }) => (edit ? [{ key, edit }] : []))
  return {
    rules,
    unique: edited.filter(({ key, edit }) => edit.unique || keyFields.join() === key).map(({ key }) => key),
    amongValuesOf: edited.flatMap(({ key, edit: { choices, onlyChoices } }) =>
      choices && !Array.isArray(choices) && onlyChoices ? [{ field: key, of: choices.of }] : [],
    ),
  }
}
