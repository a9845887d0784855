/** Parts of a second: of each unit so many. */
export const UNITS = { second: 1n, milli: 1000n, micro: 1_000_000n, nano: 1_000_000_000n } as const
export type Unit = keyof typeof UNITS

/**
 * What values of a column file mean, whatever the format. Beside each kind stands what a raw value of it is; a value that
 * is not there is null everywhere.
 */
export type LogicalType =
  /** boolean. */
  | { readonly kind: 'boolean' }
  /** number or bigint. */
  | { readonly kind: 'integer' }
  /** number. `single`: of 32 bits or fewer, and so with the digits that tell those apart. */
  | { readonly kind: 'float'; readonly single: boolean }
  /** Whole units of the last decimal: number or bigint. A negative scale means tens, hundreds and so on. */
  | { readonly kind: 'decimal'; readonly scale: number }
  /** string. */
  | { readonly kind: 'text' }
  /** UTF-8 of a JSON text: Uint8Array. */
  | { readonly kind: 'json' }
  /** Uint8Array; string where the file does not say what bytes are, and all of them are text. */
  | { readonly kind: 'bytes' }
  /** Uint8Array of 16. */
  | { readonly kind: 'uuid' }
  /** Days or milliseconds since 1970: number or bigint. */
  | { readonly kind: 'date'; readonly of: 'day' | 'milli' }
  /** Units since midnight: number or bigint. */
  | { readonly kind: 'time'; readonly unit: Unit }
  /** Units since 1970: number or bigint. `zoned`: instants, else wall time. */
  | { readonly kind: 'moment'; readonly unit: Unit; readonly zoned: boolean }
  /** Units: number or bigint. */
  | { readonly kind: 'duration'; readonly unit: Unit }
  /** `[months, days, nanoseconds]`: numbers or bigints. */
  | { readonly kind: 'interval' }
  /** A list of raw values. */
  | { readonly kind: 'list'; readonly of: LogicalType }
  /** A list of pairs of raw values. */
  | { readonly kind: 'map'; readonly key: LogicalType; readonly value: LogicalType }
  /** Raw values of its members, in their order. */
  | { readonly kind: 'struct'; readonly members: readonly Member[] }
  /** `[which, value]`. */
  | { readonly kind: 'union'; readonly of: readonly LogicalType[] }
  /** Nothing: always null. */
  | { readonly kind: 'nothing' }

export interface Member {
  readonly name: string
  readonly type: LogicalType
}
