import type {
  Arrangement,
  ChangeList,
  FlowReport,
  KeyValue,
  PendingCounts,
  Progress,
  RowId,
  SourceDescription,
  Why,
} from '@vast-meadow/engine'

import type { Problem } from './problem.ts'
import type { RecordOf } from './record-of.ts'
import type { ActionCall, BatchCall } from '../painter.ts'
import { keysIn } from '@vast-meadow/engine/client'

/** What a grid tells, by name. */
export interface MeadowEvents<Row extends object = object> {
  /** Rows are there, or came anew. */
  open: { readonly description: SourceDescription }
  progress: Progress
  /** Rows could not be had; what was shown before stays. */
  problem: Problem
  arrangement: { readonly arrangement: Arrangement; readonly why: Why }
  flow: { readonly report: FlowReport }
  /** Rows were selected or are not any more: once for each act. */
  selection: SelectionChange
  /** Rows were opened or closed: once for each act. */
  opened: OpenChange
  /** A row was double-clicked, or Enter pressed on one of its cells. */
  row: { readonly record: RecordOf<Row>; readonly column: string }
  /** A header was clicked, or Enter pressed on it. */
  column: { readonly column: string }
  /**
   * Asked from a cell: why its row is there. The host shows `handle.trace`, or what it likes; cells offer to ask only
   * where somebody listens.
   */
  why: { readonly row: RowId; readonly key: KeyValue }
  /** An action's button was pressed in a cell, and confirmed where that is asked. */
  action: ActionCall<Row>
  /** An action on the selected rows was asked for, and confirmed where that is asked. */
  batch: BatchCall<Row>
  /** What is changed and not saved is this much now. */
  pending: PendingCounts
  /** The host was asked to save changes, and answered. */
  saved: SaveOutcome
  measures: Measures
}

/** What came of a save. */
export interface SaveOutcome {
  readonly changes: ChangeList
  readonly saved: number
  readonly refused: number
  readonly conflicts: number
}

/** What became of one act of selecting. */
export interface SelectionChange {
  /** Rows that are selected by now. */
  readonly count: number
  /** How many came to be selected, and how many were and are not any more. */
  readonly added: number
  readonly removed: number
  /** Their keys, at most `limit`; default 10,000. */
  addedKeys(limit?: number): Promise<KeyValue[]>
  removedKeys(limit?: number): Promise<KeyValue[]>
}

/** A row that is to be opened, or closed. */
export interface OpenAct {
  readonly key: KeyValue
  readonly open: boolean
}

/** Rows that are to be taken out. */
export interface DeleteAct {
  readonly keys: readonly KeyValue[]
}

/** What became of one act of opening or closing. */
export interface OpenChange {
  /** Rows that are open by now. */
  readonly count: number
  /** The keys of rows that were opened, and of those that were closed. */
  readonly opened: readonly KeyValue[]
  readonly closed: readonly KeyValue[]
}

/** The names of all events, each once: elements and components tell of these. */
export const EVENT_NAMES: readonly (keyof MeadowEvents)[] = keysIn({
  open: true,
  progress: true,
  problem: true,
  arrangement: true,
  flow: true,
  selection: true,
  opened: true,
  row: true,
  column: true,
  why: true,
  action: true,
  batch: true,
  pending: true,
  saved: true,
  measures: true,
} satisfies Record<keyof MeadowEvents, true>)

/** What the grid measures of itself while it runs. */
export interface Measures {
  /** Milliseconds from a scroll event until its frame was painted, and of our own script in it. */
  readonly frameMs: number
  readonly scriptMs: number
  readonly elements: number
  readonly lines: number
  readonly columns: number
  /** Milliseconds from the last change of the arrangement until its result was painted. */
  readonly changeMs: number
}

export type Listener<Name extends keyof MeadowEvents, Row extends object = object> = (
  event: MeadowEvents<Row>[Name],
) => void

/** Listeners by event name; one that throws does not keep the others from hearing. */
export class Emitter {
  private readonly listeners = new Map<keyof MeadowEvents, Set<Listener<never>>>()

  on<Name extends keyof MeadowEvents>(name: Name, listener: Listener<Name>): () => void {
    const set = this.listeners.get(name) ?? new Set()
    this.listeners.set(name, set)
    set.add(listener)
    return () => set.delete(listener)
  }

  /** Whether anybody listens. */
  has(name: keyof MeadowEvents): boolean {
    return (this.listeners.get(name)?.size ?? 0) > 0
  }

  emit<Name extends keyof MeadowEvents>(name: Name, event: MeadowEvents[Name]): void {
    for (const listener of [...(this.listeners.get(name) ?? [])] as Listener<Name>[]) {
      try {
        listener(event)
      } catch (error) {
        console.error(error)
      }
    }
  }

  clear(): void {
    this.listeners.clear()
  }
}
