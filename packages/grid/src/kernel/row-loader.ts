import { CancelledError, openSource } from '@vast-meadow/engine/client'
import type {
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

export interface RowLoaderHost {
  /** The rows are there. `own`: the grid made the source and closes it. */
  loaded(source: RowSource, description: SourceDescription, own: boolean): Promise<void>
  loading(progress: Progress | null): void
  /** `message` is null when the loading was cancelled. */
  failed(error: unknown, retry: () => void): void
}

/** Brings rows in, one loading at a time: a newer one ends the one before. */
export class RowLoader {
  private readonly placement: Placement | undefined
  private readonly parts: EngineParts
  private readonly host: RowLoaderHost
  private current: AbortController | null = null

  constructor(placement: Placement | undefined, parts: EngineParts, host: RowLoaderHost) {
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
  }

  /** Rejects when the rows cannot be had, and with `CancelledError`. */
  async load(input: RowSource | SourceInput): Promise<void> {
    this.cancel()
    const mine = (this.current = new AbortController())
    const tell = (progress: Progress | null): void => {
      if (this.current === mine && !mine.signal.aborted) this.host.loading(progress)
    }
    const patience = setTimeout(() => tell(null), PATIENCE_MS)
    const own = !isRowSource(input)
    let source: RowSource | null = null
    let taken = false
    try {
      source = isRowSource(input) ? input : await openSource(input, this.placement, this.parts)
      if (mine.signal.aborted) throw new CancelledError()
      const description = await source.open({ signal: mine.signal, onProgress: tell })
      if (mine.signal.aborted) throw new CancelledError()
      taken = true
      await this.host.loaded(source, description, own)
      if (this.current === mine) this.current = null
    } catch (error) {
      if (own && !taken) source?.close()
      if (this.current === mine) this.fail(error, input)
      throw error
    } finally {
      clearTimeout(patience)
    }
  }

  private fail(error: unknown, input: RowSource | SourceInput): void {
    this.current = null
    this.host.failed(error, () => void this.load(input).catch(() => {}))
  }
}
