import type { SourceChange } from './row-source.ts'

/** Those who want to hear that a source's rows have changed. */
export class ChangeListeners {
  private readonly listeners = new Set<(change: SourceChange) => void>()

  /** Returns how to hear no more. */
  add(listener: (change: SourceChange) => void): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  tell(change: SourceChange): void {
    for (const listener of [...this.listeners]) listener(change)
  }

  clear(): void {
    this.listeners.clear()
  }
}
