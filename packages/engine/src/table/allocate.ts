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

/** A copy of `array` in the given memory, or the array itself where it lies there already. */
export function settle<T extends Uint8Array | Uint32Array | Int32Array | Float64Array>(
  array: T,
  allocate: Allocate,
): T {
  if (allocate === privateMemory && array.byteLength === array.buffer.byteLength) return array
  const make = array.constructor as new (buffer: ArrayBufferLike, offset: number, length: number) => T
  const copy = new make(allocate(array.byteLength), 0, array.length)
  copy.set(array)
  return copy
}
