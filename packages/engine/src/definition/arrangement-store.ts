import type { Arrangement } from './arrangement-schema.ts'
import { keysIn } from '../work/checked.ts'
import { sameJson } from '../work/same-json.ts'

/** Who asked for a change. */
export type Why = 'reader' | 'builder' | 'code' | 'restore'

export type ArrangementChange = Partial<Arrangement>

/** One change of the arrangement: what became different, and why. Inverted, it takes the change back. */
export interface Transaction {
  readonly change: ArrangementChange
  readonly before: ArrangementChange
  readonly why: Why
  /** The version that the change led to. */
  readonly version: number
}

export type ArrangementListener = (arrangement: Arrangement, transaction: Transaction) => void

/** The one authority over a grid's arrangement: it changes by transactions only, and each makes a new version. */
export class ArrangementStore {
  private current: Arrangement
  private currentVersion = 0
  private readonly listeners = new Set<ArrangementListener>()

  constructor(arrangement: Arrangement) {
    this.current = arrangement
  }

  get arrangement(): Arrangement {
    return this.current
  }

  get version(): number {
    return this.currentVersion
  }

  /** Applies a change; returns its transaction, or null when nothing would differ. */
  apply(change: ArrangementChange, why: Why): Transaction | null {
    const keys = keysIn(change).filter(
      key => change[key] !== undefined && !sameJson(change[key], this.current[key]),
    )
    if (keys.length === 0) return null
    const pick = (from: ArrangementChange): ArrangementChange =>
      Object.fromEntries(keys.map(key => [key, from[key]]))
    const transaction: Transaction = {
      change: pick(change),
      before: pick(this.current),
      why,
      version: ++this.currentVersion,
    }
    this.current = { ...this.current, ...transaction.change }
    for (const listener of [...this.listeners]) listener(this.current, transaction)
    return transaction
  }

  /** Calls the listener after each transaction; the returned function ends that. */
  listen(listener: ArrangementListener): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }
}

/** The change that takes a transaction back. */
export const inverse = (transaction: Transaction): ArrangementChange => transaction.before
