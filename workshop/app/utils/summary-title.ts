import { sentences } from '~/words'
import { kindOf, type Summary } from '@vast-meadow/engine'

/** What a summary is called. */
export const summaryTitle = (summary: Summary): string =>
  typeof summary === 'object' && summary.kind === 'quantile'
    ? `${summary.at * 100} % ${sentences.summaries.quantile.toLowerCase()}`
    : sentences.summaries[kindOf(summary)]
