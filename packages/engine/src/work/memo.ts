import { keepNewest } from './keep-newest.ts'
import type { Work } from './work.ts'

/** A result, and whether it had to be worked out for this asking. */
export interface Memoized<T> {
  readonly value: T
  readonly fresh: boolean
}

/**
 * The last few results of a stage, each under the signature of all that it was made from. Questions may interleave in
 * any way: a result is kept under the signature it was asked with, never under what was asked last, so that no answer
 * can be taken for another's. Two that ask the same at once both work it out, and come to the same.
 */
export class Memo<T> {
  private readonly results = new Map<string, T>()
  private readonly most: number

  /** `most`: results kept; the one that was not used for the longest time goes first. */
  constructor(most: number) {
    this.most = most
  }

  get(signature: string): T | undefined {
    const known = this.results.get(signature)
    if (known !== undefined) {
      this.results.delete(signature)
      this.results.set(signature, known)
    }
    return known
  }

  set(signature: string, value: T): void {
    this.results.delete(signature)
    this.results.set(signature, value)
    keepNewest(this.results, this.most)
  }

  /** The result for a signature; worked out where it is not kept. */
  *of(signature: string, make: () => Work<T>): Work<Memoized<T>> {
    const known = this.get(signature)
    if (known !== undefined) return { value: known, fresh: false }
    const value = yield* make()
    this.set(signature, value)
    return { value, fresh: true }
  }

  /** Signatures and results, the least lately used first; a list of its own, so that results may be set meanwhile. */
  entries(): [string, T][] {
    return [...this.results]
  }

  get isEmpty(): boolean {
    return this.results.size === 0
  }

  /** Keeps only some results. */
  keepOnly(wanted: (value: T) => boolean): void {
    for (const [signature, value] of this.results) if (!wanted(value)) this.results.delete(signature)
  }

  clear(): void {
    this.results.clear()
  }
}
