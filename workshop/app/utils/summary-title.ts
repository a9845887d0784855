import { kindOf, summaryWords, type Summary } from '@vast-meadow/engine'

/** What a summary is called. */
export const summaryTitle = (summary: Summary): string =>
  typeof summary === 'object' && summary.kind === 'quantile'
    ? `${summary.at * 100} % ${summaryWords.quantile.toLowerCase()}`
    : summaryWords[kindOf(summary)]
