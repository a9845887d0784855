import { evaluateAlone } from '@vast-meadow/engine/client'
import type { BatchActionDefinition } from '@vast-meadow/engine'
import { make } from '../../kernel/dom.ts'
import type { Kernel } from '../../kernel/kernel.ts'

/** Buttons for what can be done with the selected rows: there, and usable, by how many these are. */
export class BatchBar {
  readonly element: HTMLElement
  private readonly kernel: Kernel
  private readonly pressed: (action: BatchActionDefinition) => void
  private actions: readonly { readonly action: BatchActionDefinition; readonly button: HTMLButtonElement }[] =
    []
  private readonly busy = new Set<string>()
  private asked = 0
  private readonly told = new Set<string>()

  constructor(kernel: Kernel, pressed: (action: BatchActionDefinition) => void) {
    this.kernel = kernel
    this.pressed = pressed
    this.element = make('span', 'batch')
    this.element.hidden = true
  }

  define(actions: readonly BatchActionDefinition[]): void {
    this.actions = actions.map(action => {
      const button = make('button', 'button act')
      button.type = 'button'
      button.textContent = action.title
      if (action.tone) button.dataset.tone = action.tone
      button.onclick = () => this.pressed(action)
      return { action, button }
    })
    this.element.replaceChildren(...this.actions.map(({ button }) => button))
  }

  setBusy(name: string, on: boolean): void {
    if (on) this.busy.add(name)
    else this.busy.delete(name)
  }

  /** So many rows are selected. */
  async show(count: number): Promise<void> {
    const mine = ++this.asked
    const states = await Promise.all(
      this.actions.map(async ({ action: { shown, when } }) => [
        shown === undefined ? count > 0 : await this.holds(shown, count),
        when === undefined ? count > 0 : await this.holds(when, count),
      ]),
    )
    if (mine !== this.asked) return
    for (const [nth, { action, button }] of this.actions.entries()) {
      const [shown, usable] = states[nth]
      const busy = this.busy.has(action.name)
      button.hidden = !shown
      button.disabled = busy || !usable
      button.ariaBusy = busy ? 'true' : null
    }
    this.element.hidden = !states.some(([shown]) => shown)
  }

  /** An expression that cannot be read holds nowhere, and that is told once. */
  private async holds(expression: string, selectedCount: number): Promise<boolean> {
    const { kernel, told } = this
    const { ok, ...of } = await evaluateAlone(expression, { selectedCount, selected: selectedCount > 0 })
    if (ok && 'value' in of) return of.value === true
    if ('problem' in of && !told.has(expression)) {
      told.add(expression)
      kernel.tell({ code: 'expression', message: kernel.texts.expressionProblem(of.problem) })
    }
    return false
  }
}
