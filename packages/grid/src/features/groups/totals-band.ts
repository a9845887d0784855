import { Band, type BandCell } from '../../band/band.ts'
import { isOwnColumn, type Geometry } from '../../band/geometry.ts'
import { make } from '../../kernel/dom.ts'

interface TotalsCell extends BandCell {
  readonly what: HTMLElement
  readonly value: Text
}

export interface TotalsHost {
  /** What stands between facts. */
  readonly parted: string
  /** What the line is called: of how many rows. */
  name(): string
  /** Which summary a column has, and what it comes to; null: none. */
  summaryOf(column: string): { readonly what: string; readonly value: string } | null
  /** Columns whose place the line's name takes. */
  covered(): readonly string[]
}

/** The line of all passing rows: what each column comes to in them. */
export class TotalsBand extends Band<TotalsCell> {
  private readonly host: TotalsHost
  private readonly label: HTMLElement

  constructor(host: TotalsHost) {
    super('row totals')
    this.host = host
    this.element.setAttribute('part', 'totals')
    this.label = this.makeName('rowheader')
  }

  /** Shows what is known now. */
  update(): void {
    const covered = this.host.covered().flatMap(column => {
      const told = this.host.summaryOf(column)
      return told?.value ? [`${told.what} ${told.value}`] : []
    })
    const name = [this.host.name(), ...covered].join(this.host.parted)
    if (this.label.textContent !== name) this.label.textContent = name
    for (const cell of this.cells()) this.fill(cell)
  }

  protected override makeCell(parent: HTMLElement): TotalsCell {
    const element = make('div', 'cell', parent)
    element.setAttribute('role', 'gridcell')
    const what = make('small', '', element)
    const value = document.createTextNode('')
    make('span', '', element).append(value)
    return { element, what, value, column: '' }
  }

  protected override dress(cell: TotalsCell, geometry: Geometry): void {
    cell.element.className = `cell to-${geometry.column(cell.column)?.align ?? 'start'}`
    this.fill(cell)
  }

  protected override drop(): void {}

  private fill({ element, what, value, column }: TotalsCell): void {
    const told =
      isOwnColumn(column) || this.host.covered().includes(column) ? null : this.host.summaryOf(column)
    const name = told?.value ? told.what : ''
    if (what.textContent !== name) what.textContent = name
    if (value.nodeValue !== (told?.value ?? '')) value.nodeValue = told?.value ?? ''
    element.title = name && told ? `${name} ${told.value}` : ''
    element.classList.toggle('summary', name !== '')
  }
}
