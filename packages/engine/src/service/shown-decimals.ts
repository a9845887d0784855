import { decimalsOf } from '../table/digits.ts'
import type { Property } from './schema.ts'
import { valueIn, type Json } from './values.ts'

/** Decimals that are shown of numbers whose service does not say how many they have. */
const MOST_DECIMALS = 6

/** Numbers of which nobody says how many decimals they have are shown with as many as the first of them. */
export const withDecimals = (properties: readonly Property[], records: readonly Json[]): Property[] =>
  properties.map(property => {
    const { field } = property
    if (field.type !== 'number' || field.decimals !== undefined) return property
    const used = records.map(record => decimalsOf(Number(valueIn(record, property))))
    return { ...property, field: { ...field, decimals: Math.min(MOST_DECIMALS, Math.max(0, ...used)) } }
  })
