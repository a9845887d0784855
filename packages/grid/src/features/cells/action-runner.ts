import type { RowId } from '@vast-meadow/engine'
import { askFirst } from './confirm-view.ts'
import type { ActionCall, CellAction } from '../../painter.ts'
import type { Texts } from '../../kernel/texts.ts'
import type { Emitter } from '../../kernel/events.ts'
import type { GridModel } from '../../kernel/grid-model.ts'

/** What happens when an action's button is pressed: a question where the definition asks one, then the host's part. */
export class ActionRunner {
  private readonly frame: HTMLElement
  private readonly model: GridModel
  private readonly texts: Texts
  private readonly emitter: Emitter
  private readonly own: Readonly<Record<string, CellAction>>

  constructor(
    frame: HTMLElement,
    model: GridModel,
    texts: Texts,
    emitter: Emitter,
    own: Readonly<Record<string, CellAction>> = {},
  ) {
    this.frame = frame
    this.model = model
    this.texts = texts
    this.emitter = emitter
    this.own = own
  }

  async run(row: RowId, column: string, name: string): Promise<void> {
    const { source, keyFields, definition } = this.model
    const cell = definition?.columns.find(({ key }) => key === column)?.cell
    const action = cell?.kind === 'actions' ? cell.actions.find(other => other.name === name) : undefined
    if (!action || !source) return
    const [[record], [key]] = await Promise.all([
      source.ask('records', { rows: [row], binding: this.model.binding }),
      source.ask('keysOf', { keyFields, rows: { kind: 'list', rows: [row] } }),
    ])
    const { confirm, title } = action
    if (confirm && !(await askFirst(this.frame, this.texts, confirm, title))) return
    if (!record || !this.frame.isConnected) return
    this.tell({ name, column, key, record }, title)
  }

  private tell(call: ActionCall, title: string): void {
    this.emitter.emit('action', call)
    try {
      this.own[call.name]?.(call)
    } catch (error) {
      console.error(error)
      const reason = error instanceof Error ? error.message : String(error)
      this.emitter.emit('problem', { code: 'action-failed', message: `“${title}” failed: ${reason}` })
    }
  }
}
