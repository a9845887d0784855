import type { ActionDefinition, BatchActionDefinition, KeyValue, RowId, RowRecord } from '@vast-meadow/engine'
import { actionKey, actionShownKey, speaksOfSelection, whenSelected } from '@vast-meadow/engine/client'
import { elementOf } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import type { PageLine } from '../../kernel/page-line.ts'
import type { ActionCall, ActionDone, BatchCall } from '../../painter.ts'
import { NoticeView } from '../../kernel/notice-view.ts'
import { runAction } from './action-runner.ts'
import { BatchBar } from './batch-bar.ts'
import { takeOut } from './take-out.ts'

/** So many rows that were taken out can be put back. */
const MOST_PUT_BACK = 10_000

/** What is done with a row, by buttons in its cells, and with the selected rows, by buttons in the bar. */
export function actions(kernel: Kernel): Feature {
  const { model, texts, emitter, options, screen, features, bar, foot, format, announcer, disposal } = kernel
  const notice = new NoticeView(texts, disposal)
  foot.addAtEnd(notice.element)
  const batch = new BatchBar(kernel, action => void runBatch(action).catch(kernel.failed))
  bar.addAtStart(batch.element)
  let count = 0

  const showBatch = (): void => void batch.show(count).catch(kernel.failed)
  disposal.add(
    emitter.on('selection', change => {
      count = change.count
      showBatch()
    }),
  )

  /** Tells what was done, and offers to undo it where the host can. */
  function done(title: string, answer: ActionDone | null): void {
    if (!answer?.undo && !answer?.text) return
    const undo = answer.undo?.bind(answer)
    const text = answer.text ?? texts.actionDone(title)
    const act = async (): Promise<void> => {
      await undo?.()
      announcer.say(texts.actionUndone(title))
    }
    const offers = undo ? [{ text: texts.undo, act: () => void act().catch(kernel.failed) }] : []
    notice.show(text, offers, false)
    announcer.say(text)
  }
  function failed(title: string, reason: string, again: () => void): void {
    notice.show(texts.actionFailed(title, reason), [{ text: texts.tryAgain, act: again }], true)
    announcer.say(texts.actionFailed(title, reason))
  }

  // ── Of a row ─────────────────────────────────────────────────────────────────────────────────────────────────

  function actionOf(column: string, name: string): ActionDefinition | undefined {
    const cell = model.columnOf(column)?.cell
    return cell?.kind === 'actions' ? cell.actions.find(action => action.name === name) : undefined
  }

  async function runRow(row: RowId, column: string, name: string): Promise<void> {
    const { keyFields } = model
    const action = actionOf(column, name)
    const { actionStates } = kernel
    if (!action || actionStates.of(row, column, name) === 'busy') return
    const [[record] = [], [key] = []] = await Promise.all([
      model.ask('records', { rows: [row], binding: model.binding }),
      model.ask('keysOf', { keyFields, rows: { kind: 'list', rows: [row] } }),
    ])
    if (!record || key === undefined) return
    const call = { name, column, key, record }
    const state = (now: Parameters<typeof actionStates.set>[3]): void => {
      actionStates.set(row, column, name, now)
      screen.body.refresh()
    }
    await runAction(kernel, {
      title: action.title,
      question: action.confirm === undefined ? null : spoken(action.confirm, record),
      allowed: () => allowed(call, action.deletes ? [key] : null),
      act() {
        state(null)
        emitter.emit('action', call)
        const handler = options.parts?.actions?.[name]
        const answer: unknown = handler?.(call)
        if (!action.deletes || keyFields.length === 0) return answer
        return takeOut(kernel, [key], [record], handler ? { answer } : null)
      },
      busy: on => state(on ? 'busy' : null),
      failed(reason) {
        state({ failed: reason })
        failed(
          `${action.title} ${named(key)}`.trim(),
          reason,
          () => void runRow(row, column, name).catch(kernel.failed),
        )
      },
      done: answer => done(`${action.title} ${named(key)}`.trim(), answer),
    })
  }

  /** Whether the host lets it happen, and lets the rows go where it takes them out. */
  async function allowed(call: ActionCall | BatchCall, keys: readonly KeyValue[] | null): Promise<boolean> {
    const { allow } = kernel
    if (!((await allow.act?.(call)) ?? true)) return false
    return keys === null || ((await allow.delete?.({ keys })) ?? true)
  }

  /** A row without a key of its own has nothing that would say anything. */
  const named = (key: KeyValue): string =>
    model.keyFields.length === 0 ? '' : Array.isArray(key) ? key.join(', ') : String(key)

  /** A question with what the row shows in the place of columns' keys. */
  const spoken = (question: string, record: RowRecord): string =>
    question.replaceAll(/\{([^{}]+)\}/g, (all, key: string) => {
      if (!Object.hasOwn(record, key)) return all
      const value = record[key]
      return typeof value === 'object' && value !== null ? value.join(', ') : model.showOf(key)(value)
    })

  // ── Of the selected rows ─────────────────────────────────────────────────────────────────────────────────────

  async function runBatch(action: BatchActionDefinition): Promise<void> {
    const { name, title, confirm } = action
    const asked = features.all(feature => feature.selectedRows?.()).find(rows => rows !== undefined)
    const rows = await asked
    if (!rows) return
    const records = async (limit?: number): Promise<never[]> =>
      ((await features.all(feature => feature.selectedRecords?.(limit)).find(told => told !== undefined)) ??
        []) as never[]
    const call = { name, count, rows, records }
    const { keyFields } = model
    const packed = features.all(feature => feature.ticked?.() ?? null).find(one => one !== null)
    const keys =
      action.deletes && keyFields.length > 0 && packed
        ? ((await model.ask('keysOf', { keyFields, rows: { kind: 'set', ...packed } })) ?? null)
        : null
    await runAction(kernel, {
      title,
      question: confirm === undefined ? null : confirm.replaceAll('{count}', format(count)),
      allowed: () => allowed(call, keys),
      act() {
        const handler = options.parts?.batch?.[name]
        const hostsPart = (): unknown => {
          emitter.emit('batch', call)
          return handler?.(call)
        }
        if (!keys) return hostsPart()
        // What is taken out is known as it was, as far as it can be put back.
        const known = keys.length <= MOST_PUT_BACK ? records(MOST_PUT_BACK) : Promise.resolve(null)
        return known.then(rows => {
          const answer = hostsPart()
          return takeOut(kernel, keys, rows, handler ? { answer } : null)
        })
      },
      busy(on) {
        batch.setBusy(name, on)
        showBatch()
      },
      failed: reason => failed(title, reason, () => void runBatch(action).catch(kernel.failed)),
      done: answer => done(title, answer),
    })
  }

  const rowAt = (line: PageLine): RowId | null => {
    const shown = line >= 0 ? kernel.lines.line(line) : undefined
    return shown?.kind === 'row' || shown?.kind === 'detail' ? shown.row : null
  }

  return {
    name: 'actions',
    defined(definition) {
      batch.define(definition.actions)
      showBatch()
    },
    holdAgain: () => kernel.actionStates.clear(),
    gone() {
      notice.hide()
    },
    click(event, { line, column }) {
      const button = elementOf(event.target)?.closest<HTMLElement>('button.act')
      const row = rowAt(line)
      const action = button?.dataset.action
      if (!action || row === null) return false
      void runRow(row, column, action).catch(kernel.failed)
      return true
    },
    cellMenu({ row, line }) {
      const selected = features.some(feature => feature.selects?.(row))
      const holds = (rule: string | undefined, key: string): boolean =>
        rule === undefined ||
        kernel.lines.value(line, row, selected && speaksOfSelection(rule) ? whenSelected(key) : key) === true
      // What the row's buttons do is offered from each of its cells; those that cannot be used are left out.
      return (model.definition?.columns ?? []).flatMap(({ key, cell }) =>
        cell.kind !== 'actions'
          ? []
          : cell.actions
              .filter(
                ({ name, when, shown }) =>
                  holds(shown, actionShownKey(key, name)) && holds(when, actionKey(key, name)),
              )
              .map(({ name, title }) => ({
                text: title,
                act: () => void runRow(row, key, name).catch(kernel.failed),
              })),
      )
    },
  }
}
