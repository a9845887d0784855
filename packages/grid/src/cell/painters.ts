import type { CellDefinition, ColumnDefinition } from '@vast-meadow/engine'
import type { CellPainter } from '../painter.ts'
import { cellPainter, type CellHost } from './cell-painters.ts'

/** Finds the painter of each column: the host's own before the built-in one. */
export class Painters {
  private readonly own: Readonly<Record<string, CellPainter>>
  private readonly host: CellHost
  private readonly failed: (message: string) => void
  private readonly switchedOff = new Set<string>()
  private readonly guarded = new Map<string, CellPainter>()
  private readonly builtIn = new Map<
    string,
    { readonly cell: CellDefinition; readonly painter: CellPainter | null }
  >()

  constructor(own: Readonly<Record<string, CellPainter>>, host: CellHost, failed: (message: string) => void) {
    this.own = own
    this.host = host
    this.failed = failed
  }

  /** The painter of a column; null: its text is shown. */
  of(key: string, column: ColumnDefinition | undefined): CellPainter | null {
    const name = column?.painter ?? `cell:${key}`
    if (Object.hasOwn(this.own, name)) return this.switchedOff.has(name) ? null : this.guard(name)
    if (!column) return null
    const known = this.builtIn.get(key)
    if (known?.cell === column.cell) return known.painter
    const painter = cellPainter(column.cell, key, this.host)
    this.builtIn.set(key, { cell: column.cell, painter })
    return painter
  }

  /** A painter of the host's: what it throws ends its work and not the grid's. */
  private guard(name: string): CellPainter {
    const known = this.guarded.get(name)
    if (known) return known
    const painter = this.own[name]
    const tried = <T>(act: () => T): T | undefined => {
      if (this.switchedOff.has(name)) return undefined
      try {
        return act()
      } catch (error) {
        this.switchedOff.add(name)
        console.error(error)
        this.failed(
          `The painter “${name}” failed and was switched off: ${error instanceof Error ? error.message : String(error)}`,
        )
        return undefined
      }
    }
    const guarded: CellPainter = {
      create: cell => tried(() => painter.create(cell)),
      update: (state, cell) => tried(() => painter.update(state, cell)),
      release: state => tried(() => painter.release?.(state)),
    }
    this.guarded.set(name, guarded)
    return guarded
  }
}
