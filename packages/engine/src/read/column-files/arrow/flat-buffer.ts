const decoder = new TextDecoder('utf-8', { ignoreBOM: true })

/**
 * A table of a FlatBuffer (its internals are published with the format). Whatever it points to is looked for within the
 * bytes: a place outside throws `RangeError`.
 */
export class FlatTable {
  private readonly view: DataView
  private readonly at: number
  private readonly vtable: number
  private readonly vtableBytes: number

  constructor(view: DataView, at: number) {
    this.view = view
    this.at = at
    this.vtable = at - view.getInt32(at, true)
    this.vtableBytes = view.getUint16(this.vtable, true)
  }

  /** The table that a buffer begins with. */
  static root(bytes: Uint8Array): FlatTable {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    return new FlatTable(view, view.getUint32(0, true))
  }

  /** `field`: its number in the schema, from 0. Each returns `otherwise` where the field is not set. */
  int8(field: number, otherwise: number): number {
    const at = this.place(field)
    return at === 0 ? otherwise : this.view.getInt8(at)
  }

  int16(field: number, otherwise: number): number {
    const at = this.place(field)
    return at === 0 ? otherwise : this.view.getInt16(at, true)
  }

  int32(field: number, otherwise: number): number {
    const at = this.place(field)
    return at === 0 ? otherwise : this.view.getInt32(at, true)
  }

  int64(field: number, otherwise: number): number {
    const at = this.place(field)
    return at === 0 ? otherwise : safe(this.view.getBigInt64(at, true))
  }

  boolean(field: number): boolean {
    return this.int8(field, 0) !== 0
  }

  text(field: number): string | null {
    const at = this.place(field)
    if (at === 0) return null
    const start = this.follow(at)
    return decoder.decode(this.bytesAt(start + 4, this.view.getUint32(start, true)))
  }

  table(field: number): FlatTable | null {
    const at = this.place(field)
    return at === 0 ? null : new FlatTable(this.view, this.follow(at))
  }

  tables(field: number): FlatTable[] {
    return this.vector(field, 4, at => new FlatTable(this.view, this.follow(at)))
  }

  int32s(field: number): number[] {
    return this.vector(field, 4, at => this.view.getInt32(at, true))
  }

  int64s(field: number): number[] {
    return this.vector(field, 8, at => safe(this.view.getBigInt64(at, true)))
  }

  /** Structures of whole numbers of 64 bits. */
  structs(field: number, words: number): number[][] {
    return this.vector(field, words * 8, at =>
      Array.from({ length: words }, (_, word) => safe(this.view.getBigInt64(at + word * 8, true))),
    )
  }

  private vector<T>(field: number, size: number, read: (at: number) => T): T[] {
    const at = this.place(field)
    if (at === 0) return []
    const start = this.follow(at)
    const count = this.view.getUint32(start, true)
    // A damaged count would have billions of places looked at.
    if (start + 4 + count * size > this.view.byteLength)
      throw new RangeError(`a list of ${count} does not fit into what there is`)
    return Array.from({ length: count }, (_, i) => read(start + 4 + i * size))
  }

  private bytesAt(start: number, length: number): Uint8Array {
    const { buffer, byteOffset, byteLength } = this.view
    if (start + length > byteLength) throw new RangeError('a text is longer than what there is')
    return new Uint8Array(buffer, byteOffset + start, length)
  }

  private follow(at: number): number {
    return at + this.view.getUint32(at, true)
  }

  /** Where a field's value lies; 0: it is not set. */
  private place(field: number): number {
    const entry = 4 + field * 2
    if (entry + 2 > this.vtableBytes) return 0
    const offset = this.view.getUint16(this.vtable + entry, true)
    return offset === 0 ? 0 : this.at + offset
  }
}

function safe(value: bigint): number {
  const number = Number(value)
  if (!Number.isSafeInteger(number)) throw new RangeError(`a length of ${value} cannot be`)
  return number
}
