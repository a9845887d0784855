import type { Progress } from '@vast-meadow/engine'
import { make } from './dom.ts'
import type { Texts } from './texts.ts'

interface StateAction {
  readonly text: string
  act(): void
}

/** One thing that holds rows back: what it says, its counts, and what can be done about it. */
export interface Hindering {
  readonly what: string
  readonly count: string
  lift(): void
  /** Another text that occurs, where what is asked for does not. */
  readonly instead: StateAction | null
}

export type GridState =
  | { readonly kind: 'ready' }
  | { readonly kind: 'loading'; readonly progress: Progress | null }
  | { readonly kind: 'failed'; readonly message: string; readonly action: StateAction | null }
  | { readonly kind: 'cancelled'; readonly action: StateAction }
  | { readonly kind: 'empty' }
  | {
      readonly kind: 'nothing-passes'
      readonly hint: string
      readonly hindering: readonly Hindering[]
      readonly action: StateAction
    }

/** What stands in the body's place when there are no lines: loading, failed, empty, or nothing passes. */
export class StateView {
  private readonly element: HTMLElement
  private readonly texts: Texts
  private readonly format: (count: number) => string
  private readonly what: HTMLElement
  private readonly hint: HTMLElement
  private readonly list: HTMLElement
  private readonly bar: HTMLProgressElement
  private readonly button: HTMLButtonElement

  constructor(parent: HTMLElement, texts: Texts, format: (count: number) => string) {
    this.texts = texts
    this.format = format
    this.element = make('div', 'state', parent)
    this.element.setAttribute('role', 'status')
    this.what = make('p', 'what', this.element)
    this.hint = make('p', '', this.element)
    this.list = make('ul', 'hindering', this.element)
    this.bar = make('progress', '', this.element)
    this.bar.ariaLabel = texts.loading
    this.button = make('button', 'button', this.element)
    this.button.type = 'button'
    this.show({ kind: 'ready' })
  }

  show(state: GridState): void {
    this.element.hidden = state.kind === 'ready'
    this.element.classList.toggle('over', state.kind === 'nothing-passes' || state.kind === 'empty')
    this.bar.hidden = state.kind !== 'loading'
    const action = 'action' in state ? state.action : null
    this.button.hidden = !action
    this.button.textContent = action?.text ?? ''
    this.button.onclick = action ? () => action.act() : null
    this.hint.textContent = ''
    this.list.replaceChildren()
    this.list.hidden = true
    this.what.textContent = ''
    if (state.kind === 'loading') this.showProgress(state.progress)
    else if (state.kind === 'failed') {
      this.what.textContent = this.texts.failed
      this.hint.textContent = state.message
    } else if (state.kind === 'cancelled') this.what.textContent = this.texts.cancelled
    else if (state.kind === 'empty') this.what.textContent = this.texts.empty
    else if (state.kind === 'nothing-passes') {
      this.what.textContent = this.texts.nothingPasses
      this.hint.textContent = state.hint
      this.list.hidden = state.hindering.length === 0
      this.list.replaceChildren(...state.hindering.map(one => this.hindrance(one)))
    }
  }

  private hindrance(one: Hindering): HTMLElement {
    const { what, count, instead } = one
    const item = make('li')
    const text = make('span', '', item)
    make('b', '', text).textContent = what
    make('small', '', text).textContent = count
    const button = (title: string, label: string, act: () => void): void => {
      const made = make('button', 'button', item)
      made.type = 'button'
      made.textContent = title
      made.ariaLabel = label
      made.onclick = act
    }
    if (instead)
      button(this.texts.useInstead(instead.text), this.texts.useInstead(instead.text), () => instead.act())
    button(this.texts.liftOne, this.texts.lift(what), () => one.lift())
    return item
  }

  private showProgress(progress: Progress | null): void {
    this.what.textContent = progress?.doing ?? this.texts.loading
    if (!progress || progress.of === 0) {
      this.bar.removeAttribute('value')
      return
    }
    this.bar.max = progress.of
    this.bar.value = progress.done
    this.hint.textContent = this.texts.progress(
      this.format(progress.done),
      this.format(progress.of),
      progress.unit,
    )
  }
}
