/** Typed arrays that grow by doubling while a table is read; they begin small, as a table may have thousands of columns. */
export class GrowNumbers {
  private values = new Float64Array(16)
  length = 0

  push(value: number): void {
    if (this.length === this.values.length) {
      const larger = new Float64Array(this.values.length * 2)
      larger.set(this.values)
      this.values = larger
    }
    this.values[this.length++] = value
  }

  at(index: number): number {
    return this.values[index]
  }

  view(): Float64Array {
    return this.values.subarray(0, this.length)
  }
}

export class GrowBigs {
  private values = new BigInt64Array(16)
  length = 0

  /** The same whole numbers, of 64 bits. */
  static from(numbers: Float64Array): GrowBigs {
    const bigs = new GrowBigs()
    bigs.values = new BigInt64Array(Math.max(16, numbers.length))
    for (let i = 0; i < numbers.length; i++) bigs.values[i] = BigInt(numbers[i])
    bigs.length = numbers.length
    return bigs
  }

  push(value: bigint): void {
    if (this.length === this.values.length) {
      const larger = new BigInt64Array(Math.max(16, this.values.length * 2))
      larger.set(this.values)
      this.values = larger
    }
    this.values[this.length++] = value
  }

  at(index: number): bigint {
    return this.values[index]
  }

  view(): BigInt64Array {
    return this.values.subarray(0, this.length)
  }
}

export class GrowCodes {
  /** May be longer than what is in use; grows by being replaced, so it is not to be held on to. */
  values = new Uint32Array(16)
  length = 0

  push(value: number): void {
    if (this.length === this.values.length) {
      const larger = new Uint32Array(this.values.length * 2)
      larger.set(this.values)
      this.values = larger
    }
    this.values[this.length++] = value
  }

  view(): Uint32Array {
    return this.values.subarray(0, this.length)
  }
}

export class GrowBytes {
  bytes = new Uint8Array(64)
  length = 0

  push(source: Uint8Array, start: number, end: number): void {
    const size = end - start
    if (this.length + size > this.bytes.length) {
      const larger = new Uint8Array(Math.max(this.length + size, this.bytes.length * 2))
      larger.set(this.bytes)
      this.bytes = larger
    }
    // Most fields are a few bytes long, where a loop beats `set` of a subarray.
    if (size < 32) {
      const target = this.bytes
      for (let i = start, o = this.length; i < end; i++, o++) target[o] = source[i]
    } else {
      this.bytes.set(source.subarray(start, end), this.length)
    }
    this.length += size
  }

  pushOne(byte: number): void {
    if (this.length === this.bytes.length) {
      const larger = new Uint8Array(this.bytes.length * 2)
      larger.set(this.bytes)
      this.bytes = larger
    }
    this.bytes[this.length++] = byte
  }

  view(): Uint8Array {
    return this.bytes.subarray(0, this.length)
  }
}

/** Row numbers without a value, noted in ascending order. */
export class GrowMissing {
  private bits = new Uint32Array(1)
  count = 0

  add(row: number): void {
    const word = row >>> 5
    if (word >= this.bits.length) {
      const larger = new Uint32Array(Math.max(word + 1, this.bits.length * 2))
      larger.set(this.bits)
      this.bits = larger
    }
    this.bits[word] |= 1 << (row & 31)
    this.count++
  }

  /** The set for a table of `rows` rows, or null when nothing is missing. */
  finish(rows: number): Uint32Array | null {
    if (this.count === 0) return null
    const words = new Uint32Array((rows + 31) >>> 5)
    words.set(this.bits.subarray(0, words.length))
    return words
  }
}
