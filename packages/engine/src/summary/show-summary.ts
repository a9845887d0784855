import type { Field } from '../table/column.ts'
import type { Format } from '../table/format.ts'
import { shower, type Show } from '../table/shown-text.ts'
import { summaryShown, type Summary } from './summary.ts'

/** Digits that a mean has more than the values it is one of. */
const MEAN_DECIMALS = 1

/** Writes what a column's summary comes to: as its values are written where it is one, else as a count or a share. */
export function summaryShower(summary: Summary, field: Field, format: Format = {}): Show {
  const { locale } = format
  const grouped = format.number && format.number !== 'plain' ? 'grouped' : 'plain'
  switch (summaryShown(summary, field.type)) {
    case 'count':
    case 'days':
      return shower({ key: field.key, type: 'integer' }, { locale, number: grouped })
    case 'share':
      return shower({ key: field.key, type: 'number' }, { locale, number: 'percent', decimals: 1 })
    case 'mean':
      return meanShower(field, format)
    case 'value':
      return shower(field, format)
  }
}

function meanShower(field: Field, format: Format): Show {
  if (field.type === 'date' || field.type === 'datetime' || field.type === 'time') {
    const show = shower(field, format)
    return value => (typeof value === 'number' ? show(Math.round(value)) : show(value))
  }
  const decimals = (field.decimals ?? 0) + MEAN_DECIMALS
  return shower({ ...field, type: 'number', wide: false, decimals }, format)
}
