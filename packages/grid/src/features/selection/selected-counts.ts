import type { GroupPath, HeadLine, PackedRows, SelectedOf } from '@vast-meadow/engine'
import type { Kernel } from '../../kernel/kernel.ts'

type State = 'true' | 'false' | 'mixed'

export const stateOf = ({ rows, selected }: SelectedOf): State =>
  selected === 0 ? 'false' : selected === rows ? 'true' : 'mixed'

/** Of what is ticked: how much passes, and stands in the groups in view. Counted where the rows are, and told when it is known. */
export class SelectedCounts {
  /** Null: not known yet. */
  passing: SelectedOf | null = null
  private readonly kernel: Kernel
  private readonly told: () => void
  private readonly ticked: () => PackedRows | null
  private readonly states = new Map<string, State>()
  /** The groups that are drawn, by their names. */
  private readonly wanted = new Map<string, GroupPath>()
  private asked = 0
  private waits = false

  constructor(kernel: Kernel, ticked: () => PackedRows | null, told: () => void) {
    this.kernel = kernel
    this.ticked = ticked
    this.told = told
  }

  /** Whether the rows of a group are ticked; not known before they are counted, and then told. */
  stateOf({ path }: HeadLine): State {
    const name = JSON.stringify(path)
    const known = this.states.get(name)
    if (!this.wanted.has(name)) {
      this.wanted.set(name, path)
      if (known === undefined) this.askSoon()
    }
    return known ?? 'false'
  }

  /** Other rows are ticked: what was known is shown until the new counts come. */
  ask(): void {
    this.askSoon()
  }

  /** Other groups may be drawn. */
  forget(): void {
    this.wanted.clear()
    this.states.clear()
    this.passing = null
    this.askSoon()
  }

  /** How much of a group is ticked, counted anew; null: nobody knows. */
  async of(path: GroupPath): Promise<SelectedOf | null> {
    return (await this.count([path]))?.groups[0] ?? null
  }

  async ofAll(): Promise<SelectedOf | null> {
    return (await this.count([]))?.passing ?? null
  }

  private askSoon(): void {
    if (this.waits) return
    this.waits = true
    queueMicrotask(() => {
      this.waits = false
      void this.askNow().catch(this.kernel.failed)
    })
  }

  private async askNow(): Promise<void> {
    const mine = ++this.asked
    const paths = [...this.wanted]
    const told = await this.count(paths.map(([, path]) => path))
    if (mine !== this.asked) return
    this.passing = told?.passing ?? null
    this.states.clear()
    for (const [nth, [name]] of paths.entries())
      if (told?.groups[nth]) this.states.set(name, stateOf(told.groups[nth]))
    this.told()
  }

  private async count(
    paths: readonly GroupPath[],
  ): Promise<{ readonly passing: SelectedOf; readonly groups: readonly SelectedOf[] } | null> {
    const { model, view } = this.kernel
    const selected = this.ticked()
    if (!view) return null
    const rows = view.report.passing
    // Nothing has to be counted where nothing is ticked.
    if (selected?.chunks.length === 0 && selected.names.length === 0)
      return { passing: { rows, selected: 0 }, groups: paths.map(() => ({ rows: 1, selected: 0 })) }
    if (!selected || !model.canTell('selectedIn')) return null
    return (await model.ask('selectedIn', { view: view.id, selected, paths })) ?? null
  }
}
