import { checkKeyOf } from './binding.ts'
import type { Definition } from './definition.ts'
import { fieldReference } from '../expression/field-reference.ts'
import type { CheckProblem } from '../check/check-problem.ts'
import type { CheckRule, RowRules } from '../check/row-rules.ts'

/** The checks of a definition that need more than a value. */
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
  const titleOf = (key: string): string => columns.find(column => column.key === key)?.title ?? key
  const edited = columns.flatMap(({ key, edit }) => (edit ? [{ key, edit }] : []))
  return {
    rules,
    unique: edited.filter(({ key, edit }) => edit.unique || keyFields.join() === key).map(({ key }) => key),
    amongValuesOf: edited.flatMap(({ key, edit: { choices, onlyChoices } }) => {
      if (!choices || !('of' in choices) || !onlyChoices) return []
      const { of, like } = choices
      const problem: CheckProblem =
        like.length === 0
          ? { code: 'not-a-choice' }
          : { code: 'not-a-choice-beside', column: titleOf(key), beside: like.map(titleOf) }
      return [{ field: key, of, like, problem }]
    }),
  }
}
