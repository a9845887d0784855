/** Where lines lie from top to bottom, in CSS px from the top of the body. */
export interface LineHeights {
  readonly count: number
  /** Height of all lines. */
  readonly total: number
  /** Top of a line; of `count`, the end of all. */
  topOf(line: number): number
  heightOf(line: number): number
  /** The line that lies at an offset, within what lines there are; 0 where there are none. */
  lineAt(offset: number): number
}

/** Lines of one height. Everything is a multiplication. */
export class EvenHeights implements LineHeights {
  readonly count: number
  private readonly height: number

  constructor(count: number, height: number) {
    this.count = count
    this.height = height
  }

  get total(): number {
    return this.count * this.height
  }

  topOf(line: number): number {
    return line * this.height
  }

  heightOf(): number {
    return this.height
  }

  lineAt(offset: number): number {
    return Math.max(0, Math.min(this.count - 1, Math.floor(offset / this.height)))
  }
}

/** Lines of a block, whose differences from the estimate are summed. A power of two. */
const BLOCK = 256
/** Differences below this are not worth moving anything for, in CSS px. */
const EPSILON = 0.01

/**
 * Lines whose heights become known as they come into view; until then each has the estimated height. Kept are only
 * differences from it: a sum for every block of lines, in a binary indexed tree (Fenwick, 1994), and for blocks of
 * which anything was measured the difference of every line. All questions are answered in the logarithm of the blocks
 * and one block's length; ten million lines of which none is measured take 300 kB.
 */
export class MeasuredHeights implements LineHeights {
  readonly count: number
  readonly estimate: number
  private readonly sums: Float64Array
  private readonly blocks = new Map<number, Float32Array>()
  private readonly known = new Set<number>()
  private difference = 0

  constructor(count: number, estimate: number) {
    this.count = count
    this.estimate = estimate
    this.sums = new Float64Array(Math.ceil(count / BLOCK) + 1)
  }

  get total(): number {
    return this.count * this.estimate + this.difference
  }

  isMeasured(line: number): boolean {
    return this.known.has(line)
  }

  /** Takes a line's height; tells whether that moved anything. */
  measured(line: number, height: number): boolean {
    this.known.add(line)
    return this.expect(line, height)
  }

  /** Estimates the height of one line otherwise, until it is measured; tells whether that moved anything. */
  expect(line: number, height: number): boolean {
    const block = Math.floor(line / BLOCK)
    const lines = this.blocks.get(block) ?? new Float32Array(BLOCK)
    const before = lines[line % BLOCK]
    if (Math.abs(height - this.estimate - before) < EPSILON) return false
    lines[line % BLOCK] = height - this.estimate
    this.blocks.set(block, lines)
    // What is kept is a float of 32 bits; sums are of the same, so that they never drift.
    const step = lines[line % BLOCK] - before
    this.difference += step
    for (let at = block + 1; at < this.sums.length; at += at & -at) this.sums[at] += step
    return true
  }

  heightOf(line: number): number {
    return this.estimate + (this.blocks.get(Math.floor(line / BLOCK))?.[line % BLOCK] ?? 0)
  }

  topOf(line: number): number {
    const block = Math.floor(line / BLOCK)
    let sum = 0
    for (let at = block; at > 0; at -= at & -at) sum += this.sums[at]
    const lines = this.blocks.get(block)
    if (lines) for (let i = 0; i < line % BLOCK; i++) sum += lines[i]
    return line * this.estimate + sum
  }

  lineAt(offset: number): number {
    if (this.count === 0) return 0
    let block = 0
    let top = 0
    for (let step = highestPower(this.sums.length - 1); step > 0; step >>>= 1) {
      const next = block + step
      if (next >= this.sums.length) continue
      const end = top + step * BLOCK * this.estimate + this.sums[next]
      if (end <= offset) {
        block = next
        top = end
      }
    }
    let line = block * BLOCK
    const last = Math.min(this.count, line + BLOCK) - 1
    while (line < last) {
      const end = top + this.heightOf(line)
      if (end > offset) break
      top = end
      line++
    }
    return Math.min(line, this.count - 1)
  }
}

const highestPower = (n: number): number => (n < 1 ? 0 : 2 ** Math.floor(Math.log2(n)))
