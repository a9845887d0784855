import type { SummaryKind } from '../summary/summary.ts'

/** What summaries are called. */
export const summaryWords: Readonly<Record<SummaryKind, string>> = {
  count: 'Rows',
  present: 'Values',
  missing: 'Missing',
  distinct: 'Different values',
  sum: 'Sum',
  mean: 'Mean',
  minimum: 'Minimum',
  maximum: 'Maximum',
  range: 'Range',
  median: 'Median',
  quantile: 'Quantile',
  deviation: 'Standard deviation',
  first: 'First',
  last: 'Last',
  frequent: 'Most frequent',
  same: 'If all the same',
  share: 'Share of all',
  'share-of-parent': 'Share of the group above',
  expression: 'Expression',
  own: 'Own summary',
}
