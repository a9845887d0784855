import { fillSheet } from '../kernel/simulated-dom.ts'
import type { CellHost } from './cell-painters.ts'
import { editableKey, speaksOfSelection, styleKey, whenSelected } from '@vast-meadow/engine/client'
import type { Binding, ColumnDefinition, Definition, RowSource } from '@vast-meadow/engine'
import { columnsRead } from '../cell/cell-painters.ts'
import { Painters } from '../cell/painters.ts'
import { cellClass, definitionRules } from '../look/definition-sheet.ts'
import { make } from '../kernel/dom.ts'
import type { CellPainter } from '../painter.ts'

/** How cells look by the definition: painters, styles by expression, and the extents that bars need. */
export class CellDrawing {
  readonly sheet: CSSStyleSheet
  /** The columns that tell where style rules hold, by the rule's number. */
  rules: readonly string[] = []
  /** The same in selected rows, where that makes a difference. */
  selectedRules: readonly string[] = []
  /** Whether cells look otherwise in selected rows, beside what all grids do. */
  goesBySelection = false
  /** By column: what is said in place of cells where the rows have no such field. */
  absent: ReadonlyMap<string, string> = new Map()
  striped = false
  private readonly painters: Painters
  private classes = new Map<string, string>()
  private beside: readonly string[] = []
  private extents = new Map<string, { readonly low: number; readonly high: number }>()
  private asked = 0

  constructor(
    own: Readonly<Record<string, CellPainter>>,
    sheet: CSSStyleSheet,
    failed: (message: string) => void,
    noPicture: CellHost['noPicture'],
    actionState: CellHost['actionState'],
  ) {
    this.sheet = sheet
    this.painters = new Painters(
      own,
      { extent: column => this.extents.get(column) ?? null, noPicture, actionState },
      failed,
    )
  }

  /** The columns that are read beside those that are shown. */
  get readBeside(): readonly string[] {
    return this.beside
  }

  painterOf(key: string, column: ColumnDefinition | undefined): CellPainter | null {
    const said = this.absent.get(key)
    return said === undefined ? this.painters.of(key, column) : absentPainter(said)
  }

  classesOf(column: string): string {
    return this.classes.get(column) ?? ''
  }

  /** Takes a definition; its looks hold from the next drawing on. */
  define(definition: Definition, byContent: boolean): void {
    fillSheet(this.sheet, definitionRules(definition))
    this.striped = definition.look.stripes
    this.rules = definition.styles.map((_, nth) => styleKey(nth))
    this.selectedRules = definition.styles.map(({ when }, nth) =>
      speaksOfSelection(when) ? whenSelected(styleKey(nth)) : styleKey(nth),
    )
    this.classes = new Map(
      definition.columns.map(column => [column.key, classesFor(column, definition, byContent)]),
    )
    const read = definition.columns.flatMap(({ key, cell }) => columnsRead(cell, key))
    const asked = definition.columns.flatMap(({ key, edit }) => (edit?.when ? [editableKey(key)] : []))
    const likes = definition.columns.flatMap(({ edit }) =>
      edit?.choices && 'like' in edit.choices ? edit.choices.like : [],
    )
    // What is typed is the row's whose key it is, also where the engine answers nothing more.
    const keys = definition.columns.some(({ edit }) => edit !== undefined) ? definition.key : []
    this.beside = [...new Set([...this.rules, ...this.selectedRules, ...read, ...asked, ...likes, ...keys])]
    this.goesBySelection = this.beside.some(key => key.endsWith(whenSelected('')))
  }

  /** Asks for the extents of columns with bars that do not say their own; tells when any came. */
  async measureBars(
    definition: Definition,
    source: RowSource,
    binding: Binding,
    arrived: () => void,
  ): Promise<void> {
    const asked = ++this.asked
    this.extents = new Map()
    for (const { key, cell } of definition.columns) {
      if (cell.kind !== 'bar' || cell.high !== undefined) continue
      const told = await source.ask('profile', { column: key, limit: 0, binding }).catch(() => null)
      if (asked !== this.asked) return
      if (!told || told.low === null || told.high === null) continue
      this.extents.set(key, { low: told.low, high: told.high })
      arrived()
    }
  }
}

/** Says in every cell of a column why there is nothing. */
const absentPainter = (said: string): CellPainter => ({
  create(cell) {
    make('span', 'absent', cell).textContent = said
  },
  update() {},
})

function classesFor({ key, wrap }: ColumnDefinition, { styles }: Definition, byContent: boolean): string {
  const styled = styles.flatMap(({ columns }, nth) => (columns.includes(key) ? [` ${cellClass(nth)}`] : []))
  return `${wrap && byContent ? ' wrap' : ''}${styled.join('')}`
}
