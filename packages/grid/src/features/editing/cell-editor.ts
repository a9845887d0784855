import type { EditorKind } from '@vast-meadow/engine'
import { make, type Disposal } from '../../kernel/dom.ts'
import { Popup } from '../../kernel/popup.ts'
import type { CellEditorPart, OwnEditor } from '../../painter.ts'
import type { EditingTexts } from '../../kernel/editing-texts.ts'

/** What is edited. */
export interface Edited {
  readonly kind: EditorKind
  /** Names the cell aloud. */
  readonly label: string
  readonly text: string
  /** The reader began by typing: arrows go on to other cells instead of within the text. */
  readonly typed: boolean
  readonly numeric: boolean
  /** What can be chosen, for what is typed; null: nothing is. */
  readonly choices: ((search: string) => Promise<readonly string[]>) | null
  /** The editor of the host's own; null: the grid's. */
  readonly own: OwnEditor | null
}

/** Where to go when a cell is done with. */
export type Onward = 'stay' | 'down' | 'up' | 'next' | 'before' | 'all'

export interface CellEditorHost {
  readonly rtl: boolean
  /** The cell that is edited, where it is drawn. */
  cell(): HTMLElement | undefined
  /** The text is what the reader wants there. */
  done(text: string, onward: Onward): void
  cancelled(): void
  /** Brings the cell into view again. */
  reveal(): void
}

const MOST_CHOICES = 200

/**
 * The one place where a cell is typed into: it lies over its cell and follows it, so that whatever happens to the rows
 * below, what is being typed stays where it is typed.
 */
export class CellEditor {
  readonly element: HTMLElement
  private readonly area: HTMLElement
  private readonly texts: EditingTexts
  private readonly host: CellEditorHost
  private readonly list: HTMLElement
  private readonly popup: Popup
  private field: HTMLInputElement | HTMLTextAreaElement | null = null
  private part: CellEditorPart | null = null
  /** Opens the calendar of a day or a moment. */
  private openCalendar: (() => void) | null = null
  private edited: Edited | null = null
  private choices: readonly string[] = []
  private chosen = -1
  private asked = 0

  constructor(area: HTMLElement, texts: EditingTexts, host: CellEditorHost, disposal: Disposal) {
    this.area = area
    this.texts = texts
    this.host = host
    this.element = make('div', 'cell-editor', area)
    this.element.setAttribute('part', 'editor')
    this.element.hidden = true
    this.list = make('div', 'choice-list', area)
    this.list.setAttribute('role', 'listbox')
    this.list.ariaLabel = texts.choices
    this.list.id = 'choices'
    this.popup = new Popup(this.list, { place: 'under' }, disposal)
    disposal.listen(this.element, 'keydown', event => this.key(event))
    disposal.listen(this.element, 'focusout', ({ relatedTarget }) => {
      const to = relatedTarget instanceof Node ? relatedTarget : null
      if (
        this.edited &&
        !this.element.contains(to) &&
        !this.list.contains(to) &&
        this.element.ownerDocument.hasFocus()
      )
        this.finish('stay')
    })
    disposal.listen(this.list, 'pointerdown', event => event.preventDefault())
    disposal.add(() => this.part?.release?.())
  }

  get isOpen(): boolean {
    return this.edited !== null
  }

  open(edited: Edited): void {
    this.close()
    this.edited = edited
    const { element } = this
    element.hidden = false
    element.dataset.kind = edited.kind
    this.place()
    if (edited.own) {
      this.openOwn(edited, edited.own)
      return
    }
    const field = make(edited.kind === 'long-text' ? 'textarea' : 'input', 'edit-field', element)
    this.field = field
    field.ariaLabel = edited.label
    field.value = edited.text
    field.autocomplete = 'off'
    field.spellcheck = edited.kind === 'long-text'
    if (edited.numeric) field.inputMode = 'decimal'
    if (edited.kind !== 'long-text') field.enterKeyHint = 'done'
    field.addEventListener('input', () => {
      this.host.reveal()
      if (edited.choices) void this.showChoices(field.value)
    })
    if (edited.kind === 'date' || edited.kind === 'datetime') this.addCalendar(field, edited)
    field.focus({ preventScroll: true })
    if (edited.typed) field.setSelectionRange(field.value.length, field.value.length)
    else field.select()
    if (edited.choices) {
      field.setAttribute('role', 'combobox')
      field.setAttribute('aria-controls', this.list.id)
      field.ariaExpanded = 'false'
      field.ariaAutoComplete = 'list'
      void this.showChoices(edited.typed ? field.value : '')
    }
  }

  /** Takes what is there as what is wanted. */
  finish(onward: Onward): void {
    if (!this.edited) return
    const text = this.part ? this.part.text() : (this.field?.value ?? '')
    this.close()
    this.host.done(text, onward)
  }

  /** Closes without anything being wanted. */
  close(): void {
    if (!this.edited) return
    this.edited = null
    this.asked++
    this.popup.hide()
    this.part?.release?.()
    this.part = null
    this.field = null
    this.openCalendar = null
    this.element.hidden = true
    this.element.replaceChildren()
  }

  /** Lies over its cell; where that is not drawn or out of view, it is not seen but keeps what is typed. */
  place(): void {
    if (!this.edited) return
    const cell = this.host.cell()
    const { element, area } = this
    const frame = area.getBoundingClientRect()
    const at = cell?.getBoundingClientRect()
    const isSeen =
      at !== undefined &&
      at.bottom > frame.top &&
      at.top < frame.bottom &&
      at.right > frame.left &&
      at.left < frame.right
    element.classList.toggle('out-of-view', !isSeen)
    if (!at) return
    const scale = frame.width / area.offsetWidth || 1
    const { style } = element
    style.left = `${(at.left - frame.left) / scale}px`
    style.top = `${(at.top - frame.top) / scale}px`
    style.inlineSize = `${at.width / scale}px`
    style.blockSize = `${at.height / scale}px`
    if (this.popup.open) this.popup.place()
  }

  private openOwn(edited: Edited, own: OwnEditor): void {
    this.part = own(this.element, {
      text: edited.text,
      label: edited.label,
      done: () => this.finish('stay'),
      cancel: () => this.cancel(),
    })
    const focusable = this.element.querySelector<HTMLElement>('input, select, textarea, button, [tabindex]')
    focusable?.focus({ preventScroll: true })
  }

  private cancel(): void {
    this.close()
    this.host.cancelled()
  }

  /** The browser's own calendar beside the text, which can be typed as well. */
  private addCalendar(field: HTMLInputElement | HTMLTextAreaElement, { kind }: Edited): void {
    const native = make('input', 'native-date', this.element)
    native.type = kind === 'date' ? 'date' : 'datetime-local'
    native.tabIndex = -1
    native.ariaHidden = 'true'
    const button = make('button', 'calendar', this.element)
    button.type = 'button'
    button.tabIndex = -1
    button.ariaLabel = this.texts.openCalendar
    button.textContent = '▾'
    button.onpointerdown = event => event.preventDefault()
    this.openCalendar = () => {
      native.value = field.value.replace(' ', 'T')
      native.showPicker()
    }
    button.onclick = this.openCalendar
    native.onchange = () => {
      field.value = native.value.replace('T', ' ')
      field.focus({ preventScroll: true })
    }
  }

  private key(event: KeyboardEvent): void {
    // A composition's keys are its own.
    if (event.isComposing || !this.edited) return
    const onward = this.onwardOf(event, this.edited)
    if (onward === null) {
      event.stopPropagation()
      return
    }
    event.preventDefault()
    event.stopPropagation()
    if (onward === 'cancel') this.cancel()
    else if (onward !== 'choosing') this.finish(onward)
  }

  /** What a key means; null: it is the field's own. */
  private onwardOf(event: KeyboardEvent, edited: Edited): Onward | 'cancel' | 'choosing' | null {
    const { key, shiftKey, ctrlKey, metaKey, altKey } = event
    if (this.popup.open && (key === 'ArrowDown' || key === 'ArrowUp')) {
      this.choose(this.chosen + (key === 'ArrowDown' ? 1 : -1))
      return 'choosing'
    }
    if (edited.choices && key === 'ArrowDown' && altKey) {
      void this.showChoices('')
      return 'choosing'
    }
    if (this.openCalendar && key === 'ArrowDown' && altKey) {
      this.openCalendar()
      return 'choosing'
    }
    if (key === 'Escape') {
      if (!this.popup.open || this.chosen < 0) return 'cancel'
      this.hideChoices()
      return 'choosing'
    }
    if (key === 'Tab' || key === 'Enter') {
      const isOwnEnter =
        key === 'Enter' && (edited.own !== null || (edited.kind === 'long-text' && (shiftKey || altKey)))
      if (isOwnEnter) return null
      this.takeChosen()
      if (key === 'Tab') return shiftKey ? 'before' : 'next'
      if (ctrlKey || metaKey) return 'all'
      return shiftKey ? 'up' : 'down'
    }
    if (
      !edited.typed ||
      edited.own ||
      edited.kind === 'long-text' ||
      ctrlKey ||
      metaKey ||
      altKey ||
      shiftKey
    )
      return null
    if (key === 'ArrowDown') return 'down'
    if (key === 'ArrowUp') return 'up'
    if (key !== 'ArrowRight' && key !== 'ArrowLeft') return null
    return (key === 'ArrowRight') !== this.host.rtl ? 'next' : 'before'
  }

  private async showChoices(search: string): Promise<void> {
    const mine = ++this.asked
    const told = await this.edited?.choices?.(search)
    const { field } = this
    if (mine !== this.asked || !told || !field) return
    this.choices = told.slice(0, MOST_CHOICES)
    this.list.replaceChildren(
      ...this.choices.map((choice, nth) => {
        const option = make('div', 'choice')
        option.setAttribute('role', 'option')
        option.id = `choice-${nth}`
        option.textContent = choice === '' ? '–' : choice
        option.onclick = () => {
          this.choose(nth)
          this.takeChosen()
          this.finish('stay')
        }
        return option
      }),
    )
    if (this.choices.length === 0) make('div', 'no-choice', this.list).textContent = this.texts.noChoice
    this.chosen = -1
    const exact = this.choices.indexOf(field.value)
    if (exact >= 0) this.choose(exact)
    else if (search !== '' && this.choices.length > 0) this.choose(0)
    field.ariaExpanded = 'true'
    this.popup.show(this.element)
  }

  private hideChoices(): void {
    this.popup.hide()
    this.chosen = -1
    if (this.field) this.field.ariaExpanded = 'false'
  }

  private choose(nth: number): void {
    const count = this.choices.length
    if (count === 0) return
    this.chosen = (nth + count) % count
    for (const [at, option] of [...this.list.children].entries()) {
      const isChosen = at === this.chosen
      option.ariaSelected = String(isChosen)
      if (isChosen) option.scrollIntoView({ block: 'nearest' })
    }
    this.field?.setAttribute('aria-activedescendant', `choice-${this.chosen}`)
  }

  /** Of tags the last one that is typed is completed; else the choice is all of it. */
  private takeChosen(): void {
    const { field, edited } = this
    if (!field || !this.popup.open || this.chosen < 0) return
    const choice = this.choices[this.chosen]
    field.value =
      edited?.kind === 'tags'
        ? [...field.value.split(',').slice(0, -1), choice].map(tag => tag.trim()).join(', ')
        : choice
    this.hideChoices()
  }
}
