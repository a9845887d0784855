/** Where columns and results lie: memory of one thread, or memory that page and worker both see. */
export type Allocate = (bytes: number) => ArrayBufferLike

export const privateMemory: Allocate = bytes => new ArrayBuffer(bytes)
export const sharedMemory: Allocate = bytes => new SharedArrayBuffer(bytes)

/** Whether shared memory can be made and posted here (a page must be cross-origin isolated for it). */
export function canShare(): boolean {
  if (typeof SharedArrayBuffer === 'undefined') return false
  const scope = globalThis as { crossOriginIsolated?: boolean }
  return scope.crossOriginIsolated !== false
}

/** What a column's values, codes and bits lie in. */
export type ColumnArray = Uint8Array | Uint32Array | Int32Array | Float64Array | BigInt64Array

/** An array of the same kind over `length` elements of a buffer from a byte on. */
export function arrayOver<T extends ColumnArray>(
  array: T,
  buffer: ArrayBufferLike,
  from: number,
  length: number,
): T {
  // Every kind of array makes its own kind, which the checker cannot see.
  return new (array.constructor as new (buffer: ArrayBufferLike, from: number, length: number) => T)(
    buffer,
    from,
    length,
  )
}

/** The first `used` elements of an array, copied into memory with room for `room` of which `length` count. */
export function copied<T extends ColumnArray>(
  array: T,
  allocate: Allocate,
  { used, length, room }: { used: number; length: number; room: number },
): T {
  const unit = array.BYTES_PER_ELEMENT
  const buffer = allocate(room * unit)
  // As bytes, so that all kinds are copied alike.
  new Uint8Array(buffer).set(new Uint8Array(array.buffer, array.byteOffset, used * unit))
  return arrayOver(array, buffer, 0, length)
}

/** A copy of `array` in the given memory, or the array itself where it lies there already. */
export function settle<T extends ColumnArray>(array: T, allocate: Allocate): T {
  if (allocate === privateMemory && array.byteLength === array.buffer.byteLength) return array
  const { length } = array
  return copied(array, allocate, { used: length, length, room: length })
}
