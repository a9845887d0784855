import { isBatchFormat } from '@vast-meadow/engine/client'
import type { ExportFormat } from '@vast-meadow/engine'
import { keepKey, make, makeOption, type Disposal } from '../../kernel/dom.ts'
import { Popup } from '../../kernel/popup.ts'
import type { Texts } from '../../kernel/texts.ts'
import type { ExportOptions } from './export-options.ts'

export interface ExportViewHost {
  formats(): readonly ExportFormat[]
  /** Whether rows stand in groups. */
  grouped(): boolean
  /** How many rows each choice is about, as it is shown; those without any are left out. */
  counts(): Readonly<Record<'passing' | 'selected' | 'all', string | null>>
  /** Saves the file; `told` is called with how much of it is done, from 0 to 1. */
  save(options: ExportOptions, told: (part: number) => void): Promise<void>
}

/** Asks what to take away as a file, and how it is written; shows how far that is, and ends it. */
export class ExportView {
  private readonly popup: Popup
  private readonly texts: Texts
  private readonly host: ExportViewHost
  private readonly progress: HTMLProgressElement
  private readonly problem: HTMLElement
  private readonly go: HTMLButtonElement
  private readonly fields: Readonly<
    Record<'format' | 'rows' | 'groups' | 'columns' | 'values', HTMLSelectElement>
  >
  private running: AbortController | null = null
  private anchor: HTMLElement | null = null

  constructor(frame: HTMLElement, texts: Texts, host: ExportViewHost, disposal: Disposal) {
    this.texts = texts
    this.host = host
    const form = make('form', 'card export', frame)
    form.setAttribute('part', 'export')
    form.setAttribute('role', 'dialog')
    form.ariaLabel = texts.export
    const select = (label: string): HTMLSelectElement => {
      const field = make('label', 'field', form)
      make('span', '', field).textContent = label
      const made = make('select', '', field)
      made.ariaLabel = label
      return made
    }
    this.fields = {
      format: select(texts.exportFormat),
      rows: select(texts.exportRows),
      groups: select(texts.exportGroups),
      columns: select(texts.exportColumns),
      values: select(texts.exportValues),
    }
    const { columns, values } = this.fields
    makeOption(columns, 'shown', texts.exportShownColumns)
    makeOption(columns, 'all', texts.exportAllColumns)
    makeOption(values, 'raw', texts.exportRaw)
    makeOption(values, 'shown', texts.exportShown)
    for (const field of [this.fields.format, this.fields.rows]) field.onchange = () => this.offerGroups()
    this.progress = make('progress', '', form)
    this.problem = make('p', 'problem', form)
    this.problem.setAttribute('role', 'alert')
    const choices = make('div', 'choices', form)
    const cancel = make('button', 'button', choices)
    cancel.type = 'button'
    cancel.textContent = texts.cancel
    this.go = make('button', 'button strong', choices)
    this.go.textContent = texts.exportSave
    this.popup = new Popup(form, { place: 'under', outside: () => this.leave() }, disposal)
    disposal.listen(cancel, 'click', () => {
      if (this.running) this.running.abort()
      else this.close()
    })
    disposal.listen(form, 'submit', event => {
      event.preventDefault()
      void this.save()
    })
    disposal.listen(form, 'keydown', event => {
      keepKey(event)
      if (event.key === 'Escape') this.close()
    })
    disposal.add(() => this.running?.abort())
  }

  toggle(anchor: HTMLElement): void {
    if (this.popup.open) {
      this.close()
      return
    }
    this.anchor = anchor
    anchor.ariaExpanded = 'true'
    const { texts, host } = this
    const { format, rows } = this.fields
    const chosen = { format: format.value, rows: rows.value }
    format.replaceChildren()
    for (const name of host.formats()) makeOption(format, name, texts.exportFormats[name])
    rows.replaceChildren()
    const counts = host.counts()
    for (const which of ['passing', 'selected', 'all'] as const) {
      const count = counts[which]
      if (count !== null) makeOption(rows, which, texts.exportWhich[which](count))
    }
    // As it was chosen the last time, where that is still there; selected rows are meant by who selects some.
    if ([...format.options].some(({ value }) => value === chosen.format)) format.value = chosen.format
    rows.value = counts.selected !== null ? 'selected' : 'passing'
    this.offerGroups()
    this.show(null)
    this.problem.textContent = ''
    this.popup.show(anchor)
    format.focus()
  }

  /** Only rows that pass stand in groups; column files hold them as columns alone. */
  private offerGroups(): void {
    const { texts } = this
    const { format, rows, groups } = this.fields
    const chosen = groups.value
    const line = groups.parentElement
    if (line) line.hidden = !this.host.grouped() || rows.value !== 'passing'
    const offered = isBatchFormat(format.value)
      ? (['none', 'columns'] as const)
      : (['none', 'lines', 'columns'] as const)
    groups.replaceChildren()
    for (const as of offered) makeOption(groups, as, texts.exportGroupsAs[as])
    groups.value = offered.some(as => as === chosen) ? chosen : 'none'
  }

  /** A file that is being written goes on. */
  private leave(): void {
    if (!this.running) this.close(false)
  }

  private close(giveBack = true): void {
    this.popup.hide()
    if (!this.anchor) return
    this.anchor.ariaExpanded = 'false'
    if (giveBack) this.anchor.focus()
    this.anchor = null
  }

  /** How much is done; null: nothing is under way. */
  private show(part: number | null): void {
    this.progress.hidden = part === null
    this.progress.value = part ?? 0
    this.progress.ariaLabel = this.texts.exportUnderWay
    this.go.disabled = part !== null
    for (const field of Object.values(this.fields)) field.disabled = part !== null
  }

  private async save(): Promise<void> {
    const { format, rows, groups, columns, values } = this.fields
    const running = (this.running = new AbortController())
    this.problem.textContent = ''
    this.show(0)
    try {
      // The choices are those that were offered.
      const options = {
        format: format.value,
        rows: rows.value,
        groups: groups.parentElement?.hidden ? 'none' : groups.value,
        columns: columns.value,
        values: values.value,
        signal: running.signal,
      } as ExportOptions
      await this.host.save(options, part => this.show(part))
      this.running = null
      this.close()
    } catch (error) {
      this.running = null
      this.show(null)
      if (!running.signal.aborted)
        this.problem.textContent = error instanceof Error ? error.message : String(error)
    }
  }
}
