export const NUMBER_STYLES = ['plain', 'grouped', 'compact', 'percent', 'currency', 'unit'] as const

/** `grouped`: 1,204; `compact`: 1.2K; `percent`: of one, so 0.25 is 25 %. */
export type NumberStyle = (typeof NUMBER_STYLES)[number]

export const DATE_STYLES = ['iso', 'short', 'medium', 'long', 'month', 'relative'] as const

/** `iso`: 2024-06-14; `short`: 14/06/2024; `medium`: 14 Jun 2024; `month`: June 2024; `relative`: 3 days ago. */
export type DateStyle = (typeof DATE_STYLES)[number]

/** How a column's values are written. What is not given follows from the field. */
export interface Format {
  /** Digits after the point; default: as many as the data was written with. */
  readonly decimals?: number
  /** Default `plain`: digits, a point and nothing else. The others write as the locale does. */
  readonly number?: NumberStyle
  /** ISO 4217 code for `currency`. */
  readonly currency?: string
  /** CLDR name for `unit`, for example `kilometer-per-hour`. */
  readonly unit?: string
  /** Default `iso`: 2024-06-14. The others write as the locale does. */
  readonly date?: DateStyle
  /** IANA name of the zone that instants are shown in; default UTC. */
  readonly zone?: string
  /** Words of a boolean; default `yes` and `no`, or those of the definition’s language where it is known. */
  readonly yes?: string
  readonly no?: string
  readonly locale?: string
  /** Milliseconds since 1970 that `relative` counts from; default: the present. */
  readonly now?: number
}
