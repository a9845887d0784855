import { errorOf } from '@vast-meadow/engine/client'
import { elementOf, focusedBeside, keepKey, make, type Disposal } from '../../kernel/dom.ts'
import { Popup } from '../../kernel/popup.ts'
import type { Texts } from '../../kernel/texts.ts'
import type { ArrangementsHandle } from './arrangements-handle.ts'
import { MOST_NAME } from './read-kept.ts'

export interface ArrangementsMenuHost {
  readonly handle: ArrangementsHandle
  /** Whether there is a store for names. */
  readonly keeps: boolean
  /** The page's address with what is arranged; null: there are no links. */
  readonly address: (() => Promise<string>) | null
  readonly failed: (error: unknown) => void
}

/** What differs from the start, arrangements by name, and a link to what is seen. */
export class ArrangementsMenu {
  private readonly element: HTMLElement
  private readonly content: HTMLElement
  private readonly popup: Popup
  private readonly button: HTMLElement
  private readonly texts: Texts
  private readonly host: ArrangementsMenuHost
  /** What is called otherwise just now. */
  private renamed: string | null = null
  private link: string | null = null
  private problem = ''

  constructor(
    parent: HTMLElement,
    button: HTMLElement,
    texts: Texts,
    host: ArrangementsMenuHost,
    disposal: Disposal,
  ) {
    this.button = button
    this.texts = texts
    this.host = host
    this.element = make('div', 'card arrangements', parent)
    this.element.setAttribute('role', 'dialog')
    this.element.ariaLabel = texts.arrangement
    // It may hold nothing that takes the focus.
    this.element.tabIndex = -1
    this.content = make('div', 'sections', this.element)
    this.popup = new Popup(this.element, { place: 'under', outside: () => this.close() }, disposal)
    disposal.listen(this.element, 'keydown', event => {
      if (event.key === 'Escape') {
        event.preventDefault()
        event.stopPropagation()
        if (this.renamed !== null) this.rename(null)
        else {
          this.close()
          this.button.focus()
        }
      } else if (elementOf(event.target)?.closest('input')) keepKey(event)
    })
    disposal.listen(this.element, 'focusout', event => {
      const to = elementOf(event.relatedTarget)
      if (to && !this.element.contains(to) && to !== this.button) this.close()
    })
  }

  toggle(): void {
    if (this.popup.open) {
      this.close()
      return
    }
    this.button.ariaExpanded = 'true'
    this.link = null
    this.problem = ''
    this.fill()
    this.popup.show(this.button)
    this.firstControl.focus()
  }

  /** Shows what changed while it is open. */
  update(): void {
    if (!this.popup.open) return
    const focused = focusedBeside(this.element)?.dataset.control
    // What is being typed stays.
    const typed = this.element.querySelector<HTMLInputElement>('[data-control="name"]')?.value ?? ''
    this.link = null
    this.fill()
    const field = this.element.querySelector<HTMLInputElement>('[data-control="name"]')
    if (field) field.value = typed
    if (focused === undefined) return
    const again = this.element.querySelector<HTMLElement>(
      `[data-control="${CSS.escape(focused)}"]:not(:disabled)`,
    )
    ;(again ?? this.firstControl).focus()
    this.popup.place()
  }

  private get firstControl(): HTMLElement {
    return this.element.querySelector<HTMLElement>('button:not(:disabled), input') ?? this.element
  }

  private close(): void {
    this.popup.hide()
    this.renamed = null
    this.button.ariaExpanded = 'false'
    this.content.replaceChildren()
  }

  private fill(): void {
    this.content.replaceChildren(this.differences())
    if (this.host.keeps) this.content.append(this.names())
    if (this.host.address) this.content.append(this.links())
  }

  private section(title: string): HTMLElement {
    const section = make('section')
    make('b', '', section).textContent = title
    return section
  }

  private act(
    parent: HTMLElement,
    control: string,
    text: string,
    act: () => void,
    name = text,
  ): HTMLButtonElement {
    const button = make('button', 'button', parent)
    button.type = 'button'
    button.textContent = text
    if (name !== text) button.ariaLabel = name
    button.dataset.control = control
    button.onclick = act
    return button
  }

  private differences(): HTMLElement {
    const { texts, host } = this
    const section = this.section(texts.differsFromStart)
    const all = host.handle.differences
    if (all.length === 0) make('p', '', section).textContent = texts.asAtStart
    const list = make('ul', '', section)
    list.hidden = all.length === 0
    all.forEach((one, nth) => {
      const item = make('li', '', list)
      make('span', '', item).textContent = one.text
      this.act(
        item,
        `back ${nth}`,
        texts.putBack,
        () => one.putBack(),
        texts.putBackOf(texts.putBack, one.text),
      )
    })
    if (all.length > 1) this.act(section, 'all back', texts.allBack, () => host.handle.backToStart())
    return section
  }

  private names(): HTMLElement {
    const { texts, host } = this
    const { handle } = host
    const section = this.section(texts.keptArrangements)
    const list = make('ul', '', section)
    list.hidden = handle.arrangementNames.length === 0
    for (const name of handle.arrangementNames)
      list.append(name === this.renamed ? this.renaming(name) : this.named(name))
    const form = make('form', 'keep-as', section)
    const field = make('input', 'value', form)
    field.placeholder = field.ariaLabel = texts.arrangementName
    field.maxLength = MOST_NAME
    field.dataset.control = 'name'
    const save = make('button', 'button', form)
    save.textContent = texts.saveArrangement
    form.onsubmit = event => {
      event.preventDefault()
      const name = field.value
      if (name.trim() === '') {
        field.focus()
        return
      }
      field.value = ''
      this.tried(handle.saveArrangement(name))
    }
    const told = make('p', 'problem', section)
    told.setAttribute('role', 'alert')
    told.textContent = this.problem
    return section
  }

  private named(name: string): HTMLElement {
    const { texts } = this
    const { handle, failed } = this.host
    const item = make('li')
    const take = this.act(item, `take ${name}`, name, () => void handle.takeArrangement(name))
    take.className = 'take'
    take.title = texts.takeArrangement(name)
    const isFirst = handle.firstArrangement === name
    const first = this.act(
      item,
      `first ${name}`,
      texts.beginWith,
      () => void handle.beginWith(isFirst ? null : name).catch(failed),
      texts.beginWithOf(texts.beginWith, name),
    )
    first.ariaPressed = String(isFirst)
    this.act(
      item,
      `rename ${name}`,
      texts.rename,
      () => this.rename(name),
      texts.putBackOf(texts.rename, name),
    )
    this.act(
      item,
      `delete ${name}`,
      '×',
      () => void handle.forgetArrangement(name).catch(failed),
      texts.forgetArrangement(name),
    )
    return item
  }

  private renaming(name: string): HTMLElement {
    const item = make('li')
    const form = make('form', 'keep-as', item)
    const field = make('input', 'value', form)
    field.ariaLabel = this.texts.renameOf(name)
    field.value = name
    field.maxLength = MOST_NAME
    field.dataset.control = 'new name'
    make('button', 'button', form).textContent = this.texts.rename
    form.onsubmit = event => {
      event.preventDefault()
      this.renamed = null
      this.tried(this.host.handle.renameArrangement(name, field.value))
    }
    return item
  }

  private tried(done: Promise<void>): void {
    const tell = (problem: string): void => {
      this.problem = problem
      this.update()
    }
    done.then(
      () => tell(''),
      (error: unknown) => tell(errorOf(error).message),
    )
  }

  private rename(name: string | null): void {
    const was = this.renamed
    this.renamed = name
    this.fill()
    const field = this.element.querySelector<HTMLInputElement>('[data-control="new name"]')
    field?.select()
    field?.focus()
    if (name === null && was !== null)
      this.element.querySelector<HTMLElement>(`[data-control="${CSS.escape(`rename ${was}`)}"]`)?.focus()
  }

  private links(): HTMLElement {
    const { texts, host, link } = this
    const section = this.section(texts.link)
    if (link !== null) {
      const field = make('input', 'value', section)
      field.readOnly = true
      field.value = link
      field.ariaLabel = texts.link
      field.dataset.control = 'link'
      field.onfocus = () => field.select()
    }
    const copy = this.act(section, 'copy link', texts.copyLink, () => void this.copy(copy).catch(host.failed))
    return section
  }

  /** Where the page may not write to the clipboard, the link is shown to be copied by hand. */
  private async copy(button: HTMLElement): Promise<void> {
    const address = await this.host.address?.()
    if (address === undefined) return
    const { navigator } = this.element.ownerDocument.defaultView ?? window
    try {
      await navigator.clipboard.writeText(address)
      button.textContent = this.texts.linkCopied
    } catch {
      this.link = address
      this.fill()
      this.element.querySelector<HTMLInputElement>('[data-control="link"]')?.focus()
    }
  }
}
