import { CancelledError, openSource } from '@vast-meadow/engine/client'
import type {
  Definition,
  EngineParts,
  Placement,
  Progress,
  RowSource,
  SourceDescription,
  SourceInput,
} from '@vast-meadow/engine'
import { isRowSource } from './options.ts'

/** Loading is shown only when it takes longer than this. */
const PATIENCE_MS = 150

/** Rows that are there, with what was found out before they take the others' place. */
export interface RowsReady<Prepared> {
  readonly source: RowSource
  readonly description: SourceDescription
  /** The grid made the source and closes it. */
  readonly own: boolean
  /** The definition that came with them; null: none did. */
  readonly definition: Definition | null
  readonly prepared: Prepared
}

export interface RowLoaderHost<Prepared> {
  /** Whether what is restored needs all rows, so that the first ones alone are not shown before. */
  needsAll(): boolean
  /** The rows are there; a newer loading may yet overtake them. */
  prepare(source: RowSource, description: SourceDescription): Promise<Prepared>
  loaded(rows: RowsReady<Prepared>): Promise<void>
  loading(progress: Progress | null): void
  failed(error: unknown, retry: () => void): void
}

/** Brings rows in, one loading at a time: a newer one ends the one before. */
export class RowLoader<Prepared> {
  private readonly placement: Placement | undefined
  private readonly parts: EngineParts
  private readonly host: RowLoaderHost<Prepared>
  private current: AbortController | null = null
  /** The loading that was last shown, whose other rows may be on their way. */
  private shown: {
    mine: AbortController
    input: RowSource | SourceInput
    definition: Definition | null
  } | null = null
  private closed = false
  /** The failure that was told of last. */
  private lastTold: unknown = null

  constructor(placement: Placement | undefined, parts: EngineParts, host: RowLoaderHost<Prepared>) {
    this.placement = placement
    this.parts = parts
    this.host = host
  }

  /** Rows are on their way. */
  get busy(): boolean {
    return this.current !== null
  }

  cancel(): void {
    this.current?.abort()
    this.shown?.mine.abort()
  }

  /** The rows that are shown cannot be had after all. */
  lost(error: unknown): void {
    if (this.shown) this.fail(error, this.shown.input, this.shown.definition)
  }

  /** Whether a failure was told of where rows are loaded. */
  told(error: unknown): boolean {
    return this.lastTold === error
  }

  /** Ends what is under way and takes no more. */
  close(): void {
    this.closed = true
    this.cancel()
  }

  /** Rejects when the rows cannot be had, and with `CancelledError`. */
  async load(input: RowSource | SourceInput, definition: Definition | null = null): Promise<void> {
    if (this.closed) throw new CancelledError()
    this.cancel()
    const mine = (this.current = new AbortController())
    const tell = (progress: Progress | null): void => {
      const isNewest = this.current === null || this.current === mine
      if (isNewest && !mine.signal.aborted && !this.closed) this.host.loading(progress)
    }
    const patience = setTimeout(() => tell(null), PATIENCE_MS)
    const own = !isRowSource(input)
    let source: RowSource | null = null
    let taken = false
    try {
      source = isRowSource(input) ? input : await openSource(input, this.placement, this.parts)
      if (mine.signal.aborted) throw new CancelledError()
      const description = await source.open({
        signal: mine.signal,
        onProgress: tell,
        early: !this.host.needsAll(),
      })
      if (mine.signal.aborted) throw new CancelledError()
      const prepared = await this.host.prepare(source, description)
      if (mine.signal.aborted) throw new CancelledError()
      taken = true
      this.shown = { mine, input, definition }
      await this.host.loaded({ source, description, own, definition, prepared })
      if (this.current === mine) this.current = null
    } catch (error) {
      if (own && !taken) source?.close()
      if (this.current === mine) this.fail(error, input, definition)
      throw error
    } finally {
      clearTimeout(patience)
    }
  }

  private fail(error: unknown, input: RowSource | SourceInput, definition: Definition | null): void {
    this.current = null
    this.lastTold = error
    this.host.failed(error, () => void this.load(input, definition).catch(() => {}))
  }
}
