import { halfFloat } from '../half-float.ts'
import type { LogicalType } from '../logical-type.ts'
import type { Element } from './metadata.ts'

/** Turns stored values into raw ones, as their logical type has them. */
export function rawReader(
  { physical, converted, logical }: Element,
  { kind }: LogicalType,
): (stored: unknown) => unknown {
  if (kind === 'decimal' && (physical === 'bytes' || physical === 'fixed'))
    return value => bigEndian(value as Uint8Array)
  if (kind === 'interval') return value => intervalOf(value as Uint8Array)
  if (kind === 'float' && physical === 'fixed') {
    return value => {
      const [low, high] = value as Uint8Array
      return halfFloat(low | (high << 8))
    }
  }
  if (physical === 'int96') return value => nanosOf(value as bigint)
  const bits = unsignedBits(converted, logical)
  if (kind === 'integer' && bits > 0)
    return bits > 32 ? value => BigInt.asUintN(64, value as bigint) : value => (value as number) >>> 0
  return value => value
}

/** Bits of a number without sign; 0: it has one. */
function unsignedBits(converted: Element['converted'], logical: Element['logical']): number {
  const UNSIGNED: Readonly<Record<number, number>> = { 11: 8, 12: 16, 13: 32, 14: 64 }
  if (logical?.id === 10) return logical.facts.field_2 === false ? Number(logical.facts.field_1) : 0
  return converted === null ? 0 : (UNSIGNED[converted] ?? 0)
}

/** A signed number, most significant byte first, of any length. */
function bigEndian(bytes: Uint8Array): bigint | number {
  if (bytes.length === 0) return 0
  if (bytes.length <= 4) {
    let value = (bytes[0] << 24) >> 24
    for (let i = 1; i < bytes.length; i++) value = (value << 8) | bytes[i]
    return value
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const whole = bytes.length >> 3
  const first = bytes.length & 7
  let value = BigInt((bytes[0] << 24) >> 24)
  for (let i = 1; i < first; i++) value = (value << 8n) | BigInt(bytes[i])
  for (let word = 0; word < whole; word++) {
    const at = first + word * 8
    value = at === 0 ? view.getBigInt64(0) : (value << 64n) | view.getBigUint64(at)
  }
  return value
}

/** Months, days and milliseconds; all without sign. */
function intervalOf(bytes: Uint8Array): readonly (number | bigint)[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  return [view.getUint32(0, true), view.getUint32(4, true), BigInt(view.getUint32(8, true)) * 1_000_000n]
}

/** The Julian day of 1970-01-01. */
const EPOCH_DAY = 2_440_588n
const NANOS_A_DAY = 86_400_000_000_000n

/** Nanoseconds since 1970 of a Julian day in the upper 32 bits and nanoseconds of it in the lower 64. */
const nanosOf = (value: bigint): bigint =>
  ((value >> 64n) - EPOCH_DAY) * NANOS_A_DAY + BigInt.asUintN(64, value)
