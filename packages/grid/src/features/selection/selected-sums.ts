import { keysIn } from '@vast-meadow/engine/client'
import type { PackedRows } from '@vast-meadow/engine'
import type { SummaryLine } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { SomeSummaries } from '../../kernel/some-summaries.ts'

/** Asked when ticks have rested so long. */
const REST_MS = 150

/** What columns that are summed up come to in the ticked rows, as a line beside that of all. */
export class SelectedSums {
  private readonly kernel: Kernel
  private readonly sums: SomeSummaries
  private timer = 0
  private name = ''

  constructor(kernel: Kernel) {
    this.kernel = kernel
    this.sums = new SomeSummaries(kernel.model, kernel.texts, kernel.options.parts)
    kernel.disposal.add(() => clearTimeout(this.timer))
  }

  /** Other rows are ticked, or they come to something else. */
  later(ticked: PackedRows | null, count: number): void {
    clearTimeout(this.timer)
    const none = this.name === ''
    if (count === 0 && none) return
    this.timer = window.setTimeout(() => void this.ask(ticked, count).catch(this.kernel.failed), REST_MS)
  }

  lines(): readonly SummaryLine[] {
    return this.name === '' ? [] : [{ name: this.name, summaryOf: column => this.sums.of(column) }]
  }

  private async ask(ticked: PackedRows | null, count: number): Promise<void> {
    const { model, features, texts, format } = this.kernel
    const columns = keysIn(model.arrangement.summaries)
    if (count === 0 || columns.length === 0 || !ticked) {
      this.sums.clear()
      this.name = ''
    } else {
      if (!(await this.sums.ask([{ columns, rows: { kind: 'set', ...ticked } }]))) return
      this.name = texts.selected(format(count), count)
    }
    features.all(feature => feature.summaryLinesDiffer?.())
  }
}
