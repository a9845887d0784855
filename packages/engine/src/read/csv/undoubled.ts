const QUOTE = 34

/** Room for a field whose doubled quotes are made single. */
export class Undoubled {
  /** May be longer than what was taken last; grows by being replaced. */
  bytes = new Uint8Array(1024)

  /** Takes a field; returns how many bytes it has then. `bytes[0]` is its first. */
  take(source: Uint8Array, start: number, end: number): number {
    if (end - start > this.bytes.length) this.bytes = new Uint8Array((end - start) * 2)
    const { bytes } = this
    let length = 0
    for (let i = start; i < end; i++) {
      bytes[length++] = source[i]
      if (source[i] === QUOTE) i++
    }
    return length
  }
}
