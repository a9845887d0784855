import type { Arrangement, ArrangementProblem } from '@vast-meadow/engine'
import type { ArrangementStorage, NamedArrangement } from '../../kernel/options.ts'
import { readKept, type ReadKept } from './read-kept.ts'

const SAVE_AFTER_MS = 300

/** Arrangements by name, and the one that the grid begins with. */
export interface Names {
  readonly named: readonly NamedArrangement[]
  readonly first: string | null
}

export interface KeeperHost {
  /** What is arranged, as it is to be kept. */
  now(): Arrangement
  /** What was kept could not be had, or not be read. */
  notRead(error: unknown): void
  notValid(problems: readonly ArrangementProblem[]): void
  /** Nothing could be kept. */
  notKept(error: unknown): void
  /** There are other names. */
  named(): void
}

/**
 * Keeps what a reader arranges in a store that other pages may write as well: before it writes, it reads what they
 * wrote, so that no name of theirs is lost. Whatever the store does, the grid goes on.
 */
export class ArrangementKeeper {
  names: Names = { named: [], first: null }
  private readonly store: ArrangementStorage
  private readonly host: KeeperHost
  private timer = 0
  private unsaved = false
  /** Writing waits for what is being written. */
  private last: Promise<unknown> = Promise.resolve()

  constructor(store: ArrangementStorage, host: KeeperHost) {
    this.store = store
    this.host = host
  }

  /** What to begin with; null: nothing was kept. */
  async begin(): Promise<Partial<Arrangement> | null> {
    const kept = await this.read(true)
    if (!kept) return null
    this.setNames(kept)
    const first = kept.named.find(({ name }) => name === kept.first)
    return first?.arrangement ?? kept.now
  }

  /** Something was arranged: it is kept in a moment. */
  later(): void {
    this.unsaved = true
    clearTimeout(this.timer)
    this.timer = window.setTimeout(() => void this.save(), SAVE_AFTER_MS)
  }

  /** The page goes, or the grid: what is not kept yet is written without asking for what others wrote. */
  atOnce(): void {
    clearTimeout(this.timer)
    if (!this.unsaved) return
    this.unsaved = false
    void this.write(this.host.now(), this.names)
  }

  /** Changes the names as they are by now, whoever changed them last. */
  async rename(change: (names: Names) => Names): Promise<void> {
    await this.save(change)
    this.host.named()
  }

  private save(change: (names: Names) => Names = names => names): Promise<void> {
    clearTimeout(this.timer)
    this.unsaved = false
    const done = this.last.then(() =>
      alone(async () => {
        const kept = (await this.read(false)) ?? this.names
        this.setNames(change(kept))
        await this.write(this.host.now(), this.names)
      }),
    )
    this.last = done
    return done
  }

  private setNames({ named, first }: Names): void {
    this.names = { named, first: named.some(({ name }) => name === first) ? first : null }
  }

  private async write(now: Arrangement, { named, first }: Names): Promise<void> {
    try {
      await this.store.save({ ...now, ...(named.length > 0 && { named }), ...(first !== null && { first }) })
    } catch (error) {
      this.host.notKept(error)
    }
  }

  /** What the store holds; null where it does not say. */
  private async read(tell: boolean): Promise<ReadKept | null> {
    try {
      const kept = readKept(await this.store.load())
      if (tell && kept.problems.length > 0) this.host.notValid(kept.problems)
      return kept
    } catch (error) {
      if (tell) this.host.notRead(error)
      return null
    }
  }
}

/** What is read and written in one go, no other tab does meanwhile, where the browser can see to that. */
async function alone(act: () => Promise<void>): Promise<void> {
  let begun = false
  const once = (): Promise<void> => {
    begun = true
    return act()
  }
  try {
    await navigator.locks.request('vast-meadow-arrangements', once)
  } catch (error) {
    // A page that is not served safely has no locks, and one in a sandbox may not take any.
    if (begun) throw error
    await once()
  }
}
