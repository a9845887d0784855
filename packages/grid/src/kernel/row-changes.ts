import { CancelledError, diffRows, runSliced, sameRows, SourceError } from '@vast-meadow/engine/client'
import type { ChangeSet, Committed, RowId, RowObject, RowSource } from '@vast-meadow/engine'
import { rowList, type RowsGiven } from './options.ts'
import { plainCopy } from './plain-json.ts'
import type { GridModel } from './grid-model.ts'
import { keysOfPlace, type KeyPlace, type RowPlace } from './place-keeper.ts'
import type { Features } from './feature.ts'

/** Changes that come within so long are shown as one. */
const FRAME_MS = 16
/** So many times as long as showing took, it rests: making the changes themselves, summaries and the map come on top. */
const REST = 3
/** Nobody waits longer than this to see what came. */
const MOST_REST_MS = 2000

export interface RowChangesHost {
  /** Whether other rows are on their way. */
  loading(): boolean
  /** What a reader holds on to, by row number. */
  place(): RowPlace
  /** The rows changed: what is shown is asked for again, at its place. */
  refresh(): Promise<void>
  /** Rows changed that nobody here has changed. */
  changedByItself(): void
  problem(message: string): void
  /** The line to where the rows are fails, or does so no more. */
  line(problem: SourceError | null): void
  failed(error: unknown): void
  /** The rows that are shown cannot be had after all. */
  lost(error: unknown): void
}

/**
 * Changes of the rows that are there: what a page commits, lists that differ little from the one before, and what the
 * source tells of itself.
 */
export class RowChanges {
  private readonly model: GridModel
  private readonly features: Pick<Features, 'all'>
  private readonly host: RowChangesHost
  /** The list of rows that was given last, to find what differs in the next one. */
  private held: readonly RowObject[] | null = null
  private comparing: Promise<boolean> = Promise.resolve(false)
  /** The showing of changes that is under way, and the one that those wait for which came since. */
  private showing: Promise<void> = Promise.resolve()
  private next: Promise<void> | null = null
  /** When changes that nobody here has made may be shown next. */
  private restsUntil = 0
  /** Ends the rest: a reader waits to see what they did. */
  private hurry: () => void = () => {}
  private pausing = false
  private waits = 0
  private unfollow: () => void = () => {}

  constructor(model: GridModel, features: Pick<Features, 'all'>, host: RowChangesHost) {
    this.model = model
    this.features = features
    this.host = host
  }

  /** The rows that came in last. */
  hold(rows: RowsGiven): void {
    this.held = rowList(rows)
  }

  /** Hears of changes from a source, and of no other any more; null: of none. */
  follow(source: RowSource | null): void {
    this.unfollow()
    this.held = null
    this.unfollow =
      source?.onChange(({ problem, lost, line, same }) => {
        if (line !== undefined) {
          this.host.line(line && new SourceError(line))
          return
        }
        if (lost !== undefined) {
          this.host.lost(lost ? new SourceError(lost) : new CancelledError())
          return
        }
        if (problem) this.host.problem(problem)
        // Where the first rows were shown, all of them have come; rows that are the same nobody has changed.
        if (same || this.model.description?.total.kind === 'at-least') void this.show()
        else void this.came(1)
      }) ?? (() => {})
  }

  /** Whether the view stays as it is while rows change. */
  get paused(): boolean {
    return this.pausing
  }

  /** Changes of rows that came since the view is held. */
  get waiting(): number {
    return this.waits
  }

  /** Holds the view, or shows what came meanwhile. */
  pause(on: boolean): void {
    this.pausing = on
    const waited = this.waits > 0
    this.waits = 0
    if (!on && waited) void this.show()
  }

  /** See `MeadowHandle.commit`. `byReader`: what a reader did is shown also where the view is held. */
  async commit(changes: ChangeSet, byReader = false): Promise<Committed> {
    const { source, keyFields } = this.model
    if (!source) throw new RangeError('There are no rows yet to be changed.')
    const gone = changes.remove ? await source.ask('findRows', { keyFields, keys: changes.remove }) : []
    const committed = await source.commit(plainCopy(changes), keyFields)
    this.held = null
    const rows = gone.filter(row => row !== null)
    if (rows.length > 0) this.features.all(feature => feature.gone?.(rows))
    if (byReader) await this.show(true)
    else await this.came(committed.updated + committed.inserted + committed.removed + committed.restored)
    return committed
  }

  /** Rows were saved where they are, some of which are there no more: what is shown is asked for again. */
  async saved(gone: readonly RowId[]): Promise<void> {
    if (gone.length > 0) this.features.all(feature => feature.gone?.(gone))
    await this.show(true)
  }

  /** So many rows changed by themselves: they are shown, or wait. */
  private async came(rows: number): Promise<void> {
    if (this.pausing) this.waits += rows
    this.host.changedByItself()
    if (!this.pausing) await this.show()
  }

  /**
   * Changes the rows into those of a new list, by their key; false where that cannot be done. Lists that come in quick
   * succession are compared each with the one before it, one after another.
   */
  become(rows: readonly RowObject[]): Promise<boolean> {
    const done = this.comparing.then(() => this.commitDifference(rows))
    this.comparing = done.catch(() => false)
    return done
  }

  /** What a reader holds on to in the rows that are about to go, by key. */
  async keysOfPlace(): Promise<KeyPlace | null> {
    const { source, keyFields } = this.model
    if (!source) return null
    const held = this.features.all(feature => feature.held?.() ?? null)
    const selected = held.find(rows => rows !== null) ?? null
    return await keysOfPlace(source, keyFields, { ...this.host.place(), selected }).catch(() => null)
  }

  close(): void {
    this.unfollow()
  }

  private async commitDifference(rows: readonly RowObject[]): Promise<boolean> {
    const { source, keyFields, description } = this.model
    const { held } = this
    // The same list again was changed in place: what differs cannot be known.
    if (!source || !held || held === rows || this.host.loading()) return false
    // Frameworks give an equal list anew with every rendering.
    if (keyFields.length === 0) return await runSliced(sameRows(held, rows), { sliceMs: 6 })
    if (description?.can.commit !== true) return false
    const changes = await runSliced(diffRows(held, rows, keyFields), { sliceMs: 6 })
    if (!changes || this.host.loading() || this.model.source !== source) return false
    if (changes.put?.length === 0 && changes.remove?.length === 0) {
      this.held = rows
      return true
    }
    const fields = new Set(description.fields.map(field => field.key))
    if (changes.put?.some(row => Object.keys(row).some(key => !fields.has(key)))) return false
    const committed = await this.commit(changes)
    if (committed.problems.some(({ code }) => code === 'not-of-type')) return false
    this.held = rows
    return true
  }

  /**
   * Shows what is there now, once a frame at most: changes that come meanwhile are shown together. What comes by itself
   * rests longer than it took to show, so that a stream leaves more than half of the time to whoever reads.
   */
  private show(byReader = false): Promise<void> {
    this.next ??= this.showing.then(async () => {
      await this.rest()
      this.next = null
      const from = performance.now()
      this.showing = this.host.refresh().catch((error: unknown) => this.host.failed(error))
      await this.showing
      const now = performance.now()
      this.restsUntil = now + Math.min(MOST_REST_MS, Math.max(FRAME_MS, REST * (now - from)))
    })
    if (byReader) {
      this.restsUntil = 0
      this.hurry()
    }
    return this.next
  }

  private rest(): Promise<void> {
    return new Promise(resolve => {
      const timer = setTimeout(resolve, Math.max(0, this.restsUntil - performance.now()))
      this.hurry = () => {
        clearTimeout(timer)
        resolve()
      }
    })
  }
}
