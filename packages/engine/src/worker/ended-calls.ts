/** Calls that can be noted at once; a newer one in the same place takes an older one's, whose end is then heard by message. */
const PLACES = 64

/**
 * Calls that a page gave up, noted in memory that its worker sees: it looks there between slices and need not hear a
 * message for it.
 */
export class EndedCalls {
  readonly memory: Int32Array

  constructor(memory: Int32Array = new Int32Array(new SharedArrayBuffer(PLACES * 4))) {
    this.memory = memory
  }

  end(call: number): void {
    Atomics.store(this.memory, call % PLACES, call)
  }

  has(call: number): boolean {
    return Atomics.load(this.memory, call % PLACES) === call
  }
}
