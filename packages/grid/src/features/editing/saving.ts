import {
  plainValue,
  saveAnswerSchema,
  keyName,
  type RowAnswer,
  type TypedRow,
} from '@vast-meadow/engine/editing'
import { errorOf } from '@vast-meadow/engine/client'
import type { ChangeList, ChangeSet, KeyValue, Value } from '@vast-meadow/engine'
import type { Kernel } from '../../kernel/kernel.ts'
import type { EditingTexts } from '../../kernel/editing-texts.ts'
import { keyRow, type EngineOverlay } from './engine-overlay.ts'
import type { PendingRows } from './pending-rows.ts'

/** What came of a save. */
export interface Saved {
  readonly saved: number
  readonly refused: number
  readonly conflicts: number
  /** Nothing was saved, and why; null: it was asked and answered. */
  readonly failed: string | null
}

/** Hands rows to the host to be saved, and takes what it answers: saved, refused, or changed by others meanwhile. */
export async function saveRows(
  kernel: Kernel,
  pending: PendingRows,
  overlay: EngineOverlay,
  rows: readonly TypedRow[],
  texts: EditingTexts,
): Promise<Saved> {
  const { typed } = pending
  const { model, emitter } = kernel
  const fieldOf = model.fieldOf.bind(model)
  const list = typed.toSave(rows, fieldOf)
  const names = rows.map(({ name }) => name)
  typed.saving(names)
  let answers: readonly RowAnswer[]
  try {
    answers = answersOf(await save(kernel, list), texts)
  } catch (error) {
    const reason = errorOf(error).message
    typed.notSaved(names, reason)
    return { saved: 0, refused: rows.length, conflicts: 0, failed: reason }
  }
  const done = settle(kernel, pending, rows, answers, texts)
  if (done.saved.length > 0) {
    try {
      await show(kernel, pending, done)
    } catch (error) {
      const reason = errorOf(error).message
      typed.notSaved(names, reason)
      return { saved: 0, refused: rows.length, conflicts: 0, failed: reason }
    }
    for (const row of done.saved) {
      overlay.forget(row.name)
      typed.saved(row)
    }
  }
  emitter.emit('saved', {
    changes: list,
    saved: done.saved.length,
    refused: done.refused,
    conflicts: done.conflicts,
  })
  return { saved: done.saved.length, refused: done.refused, conflicts: done.conflicts, failed: null }
}

/** The page saves where it says how, else the source where it can; else changes are the grid's own. */
async function save({ options, model }: Kernel, list: ChangeList): Promise<unknown> {
  if (options.parts?.save) return await options.parts.save(list)
  return await model.source?.save?.(list, model.keyFields)
}

/** What was saved is shown: written into the rows that are here, or asked for anew where they are elsewhere. */
async function show(kernel: Kernel, pending: PendingRows, done: Settled): Promise<void> {
  const { changes, options, model } = kernel
  const { source } = model
  if (model.description?.can.commit === true || !(source?.save ?? source?.refresh)) {
    await changes.commit(done.changes, true)
    return
  }
  // What the page has saved the source knows nothing of.
  if (options.parts?.save) await source.refresh?.().catch(kernel.failed)
  await changes.saved(done.saved.flatMap(({ name, removed }) => (removed ? (pending.idOf(name) ?? []) : [])))
}

function answersOf(answer: unknown, texts: EditingTexts): readonly RowAnswer[] {
  if (answer === undefined || answer === null || answer === true) return []
  const read = saveAnswerSchema.safeParse(answer)
  if (read.success) return read.data.rows
  throw new TypeError(texts.answerNotRead(read.error.issues[0]?.path.join('.') || 'rows'))
}

interface Settled {
  readonly changes: ChangeSet
  readonly saved: readonly TypedRow[]
  readonly refused: number
  readonly conflicts: number
}

/** Parts the rows by their answers; what was saved, as changes of the rows that are there. */
function settle(
  { model }: Kernel,
  { typed }: PendingRows,
  rows: readonly TypedRow[],
  answers: readonly RowAnswer[],
  texts: EditingTexts,
): Settled {
  const fieldOf = model.fieldOf.bind(model)
  const byName = new Map(
    answers.flatMap(answer =>
      answer.key === undefined
        ? [[answer.name ?? '', answer] as const]
        : [[keyName(answer.key), answer] as const],
    ),
  )
  const put: Record<string, unknown>[] = []
  const update: Record<string, unknown>[] = []
  const remove: KeyValue[] = []
  const giveBack: KeyValue[] = []
  const saved: TypedRow[] = []
  let [refused, conflicts] = [0, 0]
  for (const row of rows) {
    // A new row may be answered by its name together with the key that it got.
    const answer = byName.get(row.name) ?? answers.find(({ name }) => row.isNew && name === row.name)
    const record = typeof answer?.saved === 'object' ? answer.saved : null
    if (answer && answer.saved === undefined && isAgainst(answer)) {
      typed.refused(row.name, answer, fieldOf)
      if (answer.there === undefined) refused++
      else conflicts++
      continue
    }
    if (row.removed && row.key !== null) remove.push(row.key)
    else if (row.isNew) {
      const whole = {
        ...valuesOf(row, fieldOf),
        ...(answer?.key !== undefined && keyRow(model.keyFields, answer.key)),
        ...record,
      }
      if (model.keyFields.some(field => (whole[field] ?? null) === null)) {
        typed.refused(row.name, { refused: texts.noKeyForNew }, fieldOf)
        refused++
        continue
      }
      put.push(whole)
    } else if (row.key !== null) {
      update.push({ ...valuesOf(row, fieldOf), ...record, ...keyRow(model.keyFields, row.key) })
      giveBack.push(row.key)
    }
    saved.push(row)
  }
  const changes: ChangeSet = {
    ...(put.length > 0 && { put }),
    ...(update.length > 0 && { update }),
    ...(remove.length > 0 && { remove }),
    ...(giveBack.length > 0 && { giveBack }),
  }
  return { changes, saved, refused, conflicts }
}

const isAgainst = ({ refused, fields, there }: RowAnswer): boolean =>
  refused !== undefined || there !== undefined || Object.keys(fields ?? {}).length > 0

function valuesOf({ cells }: TypedRow, fieldOf: Kernel['model']['fieldOf']): Record<string, unknown> {
  const values: Record<string, unknown> = {}
  for (const [column, { now }] of cells) {
    const field = fieldOf(column)
    if (field && now.text === null) values[column] = plainValue(now.value satisfies Value, field)
  }
  return values
}
