import { decimalsOf } from '../table/digits.ts'
import type { Property } from './schema.ts'
import { valueIn, type Json } from './values.ts'

/** Decimals that are shown of numbers whose service does not say how many they have. */
const MOST_DECIMALS = 6

/**
 * What the first rows tell of numbers: those of which nobody says how many decimals they have are shown with as many as
 * these; those of which a double does not tell all apart are taken by their digits, but for what names rows, which is the
 * number that it is.
 */
export const withDecimals = (
  properties: readonly Property[],
  records: readonly Json[],
  key: readonly string[],
): Property[] =>
  properties.map(property => {
    const { field } = property
    if (field.type !== 'number' && field.type !== 'integer') return property
    const values = records.map(record => valueIn(record, property))
    if (!key.includes(property.path) && values.some(value => typeof value === 'string'))
      return { ...property, field: { ...field, wide: true } }
    if (field.type === 'integer' || field.decimals !== undefined) return property
    const used = values.map(value => decimalsOf(Number(value)))
    return { ...property, field: { ...field, decimals: Math.min(MOST_DECIMALS, Math.max(0, ...used)) } }
  })
