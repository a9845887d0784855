import type { Work } from './work.ts'

/**
 * Another thread that sees the same memory. It does what it is handed in the order in which it came, and writes its
 * answers into memory that both see, so that whoever waits need not hear messages.
 */
export interface Helper<Task> {
  hand(task: Task): void
  /** Whether it can still answer. */
  readonly alive: boolean
}

const WAITING = 0
const GIVEN = 1
const REFUSED = 2
const DROPPED = 3

/** Milliseconds for which a thread sleeps at most until it looks whether its own work was cancelled. */
const NAP_MS = 2

/** After so long the thread that waits does the work itself; an index of five million rows takes a third of it. */
const PATIENCE_MS = 30_000

/** Room for an answer in memory that two threads see: one word that says how it stands, then the answer. */
export class Answer {
  readonly memory: SharedArrayBuffer
  private readonly state: Int32Array
  /** The answer's own words. */
  readonly words: Uint32Array

  /** Room for `words` words; or, on the other side, the memory that was handed over. */
  constructor(room: number | SharedArrayBuffer) {
    this.memory = typeof room === 'number' ? new SharedArrayBuffer((room + 1) * 4) : room
    this.state = new Int32Array(this.memory, 0, 1)
    this.words = new Uint32Array(this.memory, 4)
  }

  /** Waits in slices. False: the helper could not answer. When the waiting is given up, the helper need not go on. */
  *arrived(helper: Helper<never>): Work<boolean> {
    const started = performance.now()
    try {
      while (Atomics.load(this.state, 0) === WAITING) {
        if (!helper.alive || performance.now() - started > PATIENCE_MS) return false
        Atomics.wait(this.state, 0, WAITING, NAP_MS)
        yield
      }
      return Atomics.load(this.state, 0) === GIVEN
    } finally {
      Atomics.compareExchange(this.state, 0, WAITING, DROPPED)
    }
  }

  /** For the thread that answers: whether nobody waits any more. */
  get dropped(): boolean {
    return Atomics.load(this.state, 0) === DROPPED
  }

  /** For the thread that answers: the words are written. */
  give(): void {
    this.settle(GIVEN)
  }

  /** For the thread that answers: it cannot. */
  refuse(): void {
    this.settle(REFUSED)
  }

  private settle(state: number): void {
    Atomics.compareExchange(this.state, 0, WAITING, state)
    Atomics.notify(this.state, 0)
  }
}
