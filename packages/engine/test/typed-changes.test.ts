import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { changeListSchema, keyName, refOf, TypedChanges, type Step } from '../src/editing.ts'
import type { Field, Value } from '../src/table/column.ts'
import { runs } from './support/runs.ts'

const FIELDS: Readonly<Record<string, Field>> = {
  name: { key: 'name', type: 'text' },
  stock: { key: 'stock', type: 'integer' },
  seen: { key: 'seen', type: 'date' },
}
const fieldOf = (key: string): Field | undefined => FIELDS[key]
const COLUMNS = Object.keys(FIELDS)

/** Rows as a plain program would hold them: what is saved, and what is shown, by key. */
interface Model {
  readonly saved: Map<number, Record<string, Value>>
  readonly shown: Map<number, Record<string, Value>>
  readonly removed: Set<number>
  readonly added: Map<string, Record<string, Value>>
}

type Act =
  | { readonly do: 'write'; readonly row: number; readonly column: string; readonly value: Value }
  | { readonly do: 'remove'; readonly row: number; readonly on: boolean }
  | { readonly do: 'add'; readonly values: Record<string, Value> }
  | { readonly do: 'write-new'; readonly nth: number; readonly column: string; readonly value: Value }
  | { readonly do: 'save'; readonly rows: readonly number[] }
  | { readonly do: 'undo' }
  | { readonly do: 'redo' }
  | { readonly do: 'reload' }

const value = (column: string): fc.Arbitrary<Value> =>
  column === 'name'
    ? fc.constantFrom('a', 'b', 'c', null)
    : fc.oneof(fc.integer({ min: 0, max: 5 }), fc.constant(null))
const cell = fc
  .constantFrom(...COLUMNS)
  .chain(column => fc.record({ column: fc.constant(column), value: value(column) }))
const row = fc.nat({ max: 4 })
const act: fc.Arbitrary<Act> = fc.oneof(
  { weight: 6, arbitrary: fc.tuple(row, cell).map(([r, c]): Act => ({ do: 'write', row: r, ...c })) },
  { weight: 1, arbitrary: fc.tuple(row, fc.boolean()).map(([r, on]): Act => ({ do: 'remove', row: r, on })) },
  {
    weight: 1,
    arbitrary: cell.map(({ column, value }): Act => ({ do: 'add', values: { [column]: value } })),
  },
  {
    weight: 2,
    arbitrary: fc.tuple(fc.nat({ max: 2 }), cell).map(([nth, c]): Act => ({ do: 'write-new', nth, ...c })),
  },
  { weight: 1, arbitrary: fc.array(row, { maxLength: 3 }).map((rows): Act => ({ do: 'save', rows })) },
  { weight: 3, arbitrary: fc.constant<Act>({ do: 'undo' }) },
  { weight: 2, arbitrary: fc.constant<Act>({ do: 'redo' }) },
  { weight: 1, arbitrary: fc.constant<Act>({ do: 'reload' }) },
)

const savedRow = (): Record<string, Value> => ({ name: 'a', stock: 1, seen: null })
const begun = (): Model => ({
  saved: new Map([0, 1, 2, 3, 4].map(key => [key, savedRow()])),
  shown: new Map([0, 1, 2, 3, 4].map(key => [key, savedRow()])),
  removed: new Set(),
  added: new Map(),
})

/** What is shown of all rows, by the changes over what is saved. */
function shownBy(typed: TypedChanges, model: Model): object {
  const rows = [...model.saved].map(([key, saved]) => {
    const pending = typed.row(keyName(key))
    const cells = COLUMNS.map(column => [
      column,
      pending?.cells.get(column)?.now.value ?? null,
      pending?.cells.has(column),
    ])
    return {
      key,
      ...Object.fromEntries(cells.map(([column, now, has]) => [column, has ? now : saved[String(column)]])),
      removed: pending?.removed ?? false,
    }
  })
  // A cell of a new row that has nothing is as good as none.
  const added = typed
    .newRows()
    .map(({ cells }) => some(Object.fromEntries(Array.from(cells, ([key, { now }]) => [key, now.value]))))
  return { rows, added }
}
const some = (values: Record<string, Value>): object =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null))
const shownIn = ({ shown, removed, added }: Model): object => ({
  rows: Array.from(shown, ([key, cells]) => ({ key, ...cells, removed: removed.has(key) })),
  added: Array.from(added.values(), some),
})

describe('changes that are not saved', () => {
  it('come to what was typed, whatever is taken back, done again, saved and reloaded', () => {
    fc.assert(
      fc.property(fc.array(act, { maxLength: 60 }), acts => {
        let typed = new TypedChanges()
        const model = begun()
        let done: { steps: Step[]; before: Model }[] = []
        let undone: { steps: Step[]; after: Model }[] = []
        const copy = (m: Model): Model => structuredClone(m)
        const set = (to: Model): void => {
          for (const part of ['shown', 'removed', 'added'] as const) {
            model[part].clear()
            for (const entry of to[part] as Iterable<never>)
              if (part === 'removed') model.removed.add(entry)
              else (model[part] as Map<never, never>).set(entry[0], entry[1])
          }
        }
        for (const one of acts) {
          const before = copy(model)
          const steps: Step[] = []
          const take = (step: Step | null): void => void (step && steps.push(step))
          switch (one.do) {
            case 'write':
              take(
                typed.write(refOf(one.row), one.column, model.saved.get(one.row)![one.column]!, {
                  value: one.value,
                  text: null,
                }),
              )
              model.shown.get(one.row)![one.column] = one.value
              break
            case 'remove':
              take(typed.remove(refOf(one.row), one.on))
              if (one.on) model.removed.add(one.row)
              else model.removed.delete(one.row)
              break
            case 'add': {
              const step = typed.add(new Map(Object.entries(one.values)))
              take(step)
              model.added.set(step.row.name, { ...one.values })
              break
            }
            case 'write-new': {
              const name = [...model.added.keys()].at(one.nth)
              if (name === undefined) break
              take(typed.write({ name, key: null }, one.column, null, { value: one.value, text: null }))
              const values = model.added.get(name)!
              if (Object.hasOwn(values, one.column) || one.value !== null) values[one.column] = one.value
              break
            }
            case 'save': {
              const names = new Set(one.rows.map(key => keyName(key)))
              const sent = typed.savable().filter(({ name, removed }) => names.has(name) && !removed)
              typed.saving(sent.map(({ name }) => name))
              for (const each of sent) {
                const key = Number(each.key)
                for (const [column, { now }] of each.cells) model.saved.get(key)![column] = now.value
                typed.saved(each)
              }
              // What was done before a save is taken back by typing again; the plain version does not follow that.
              if (sent.length > 0) {
                done = []
                undone = []
              }
              break
            }
            case 'undo': {
              const last = done.pop()
              if (!last) break
              undone.push({ steps: last.steps, after: copy(model) })
              typed.retrace(last.steps, 'back', ({ key }, field) => model.saved.get(Number(key))![field]!)
              set(last.before)
              break
            }
            case 'redo': {
              const last = undone.pop()
              if (!last) break
              done.push({ steps: last.steps, before: copy(model) })
              typed.retrace(last.steps, 'again', ({ key }, field) => model.saved.get(Number(key))![field]!)
              set(last.after)
              break
            }
            case 'reload': {
              const list = changeListSchema.parse(JSON.parse(JSON.stringify(typed.toList(fieldOf))))
              const names = typed.newRows().map(({ name }) => name)
              typed = new TypedChanges()
              expect(typed.takeList(list, fieldOf).leftOut).toEqual([])
              const now = typed.newRows().map(({ name }) => name)
              const values = names.map(name => model.added.get(name)!)
              model.added.clear()
              now.forEach((name, nth) => model.added.set(name, values[nth]!))
              done = []
              undone = []
              break
            }
          }
          if (steps.length > 0) {
            done.push({ steps, before })
            undone = []
          }
          expect(shownBy(typed, model)).toEqual(shownIn(model))
        }
      }),
      runs(400),
    )
  })

  it('of a save that is refused stay as they were typed, with the reason', () => {
    const typed = new TypedChanges()
    typed.write(refOf(7), 'stock', 1, { value: 5, text: null })
    const [sent] = typed.savable()
    typed.saving([sent!.name])
    expect(typed.savable()).toEqual([])
    typed.refused(sent!.name, { refused: 'no more than 3', fields: { stock: 'too many' } }, fieldOf)
    expect(typed.row(sent!.name)).toMatchObject({ state: 'refused', reason: 'no more than 3' })
    expect(typed.cell(sent!.name, 'stock')).toMatchObject({
      now: { value: 5 },
      problem: { code: 'said', text: 'too many' },
    })
    expect(typed.counts()).toMatchObject({ refused: 1, notValid: 1, cells: 1 })
    // Typing again is another try.
    typed.write(refOf(7), 'stock', 1, { value: 3, text: null })
    expect(typed.row(sent!.name)).toMatchObject({ state: 'typed', reason: null })
    expect(typed.counts()).toMatchObject({ refused: 0, notValid: 0 })
  })

  it('of a row that others changed are in conflict until that is settled', () => {
    const typed = new TypedChanges()
    const name = keyName(7)
    typed.write(refOf(7), 'stock', 1, { value: 5, text: null })
    typed.write(refOf(7), 'name', 'a', { value: 'b', text: null })
    typed.underneath(name, 'stock', 9)
    typed.underneath(name, 'name', 'a')
    expect(typed.counts().conflicts).toBe(1)
    expect(typed.savable()).toEqual([])
    expect(typed.cell(name, 'stock')).toMatchObject({ before: 1, now: { value: 5 }, theirs: 9 })
    typed.settle(name, 'stock', 'mine')
    expect(typed.toList(fieldOf).changed).toEqual([
      { key: 7, before: { stock: 9, name: 'a' }, after: { stock: 5, name: 'b' } },
    ])
    typed.underneath(name, 'stock', 8)
    typed.settle(name, 'stock', 'theirs')
    expect(typed.toList(fieldOf).changed).toEqual([{ key: 7, before: { name: 'a' }, after: { name: 'b' } }])
    // Who came to the same is not in conflict.
    typed.underneath(name, 'name', 'b')
    expect(typed.isEmpty).toBe(true)
  })

  it('go on where others take back what they did', () => {
    const typed = new TypedChanges()
    const name = keyName(7)
    typed.write(refOf(7), 'stock', 1, { value: 5, text: null })
    typed.underneath(name, 'stock', 9)
    typed.underneath(name, 'stock', 1)
    expect(typed.counts()).toMatchObject({ conflicts: 0, cells: 1 })
    typed.goneUnderneath(name, true)
    expect(typed.counts().conflicts).toBe(1)
    typed.goneUnderneath(name, false)
    expect(typed.counts().conflicts).toBe(0)
  })

  it('typed while their row is being saved stay, over what is saved by then', () => {
    const typed = new TypedChanges()
    typed.write(refOf(7), 'stock', 1, { value: 5, text: null })
    const [sent] = typed.savable()
    typed.saving([sent!.name])
    typed.write(refOf(7), 'stock', 1, { value: 6, text: null })
    typed.write(refOf(7), 'name', 'a', { value: 'z', text: null })
    typed.saved(sent!)
    expect(typed.toList(fieldOf).changed).toEqual([
      { key: 7, before: { stock: 5, name: 'a' }, after: { stock: 6, name: 'z' } },
    ])
  })

  it('that say no value are kept as they were typed, told, and never among what can be saved', () => {
    const typed = new TypedChanges()
    typed.write(refOf(['x', 2]), 'stock', 1, { value: null, text: 'a dozen' })
    expect(typed.savable()).toEqual([])
    const list = typed.toList(fieldOf)
    expect(list).toMatchObject({
      changed: [],
      notValid: [{ key: ['x', 2], field: 'stock', text: 'a dozen' }],
    })
    const again = new TypedChanges()
    again.takeList(changeListSchema.parse(JSON.parse(JSON.stringify(list))), fieldOf)
    expect(again.cell(keyName(['x', 2]), 'stock')?.now).toEqual({ value: null, text: 'a dozen' })
  })

  it('of fields that are not there any more are told and left out', () => {
    const typed = new TypedChanges()
    const list = changeListSchema.parse({
      format: 'vast-meadow-changes',
      version: 1,
      changed: [{ key: 1, before: { gone: 1, stock: 1 }, after: { gone: 2, stock: 'many' } }],
      added: [],
      removed: [],
    })
    expect(typed.takeList(list, fieldOf)).toEqual({ leftOut: ['gone', 'stock'] })
    expect(typed.isEmpty).toBe(true)
  })
})
