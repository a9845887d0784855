import type { FlowReport } from '@vast-meadow/engine'
import { language, LANGUAGES } from '~/words/languages'

const { locale } = LANGUAGES[language]
const counts = new Intl.NumberFormat(locale)
const when = new Intl.DateTimeFormat(locale, {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
})

export const formatCount = (count: number): string => counts.format(count)

/** How many rows pass; “≥ 384” where more may. */
export const formatPassing = (report: Pick<FlowReport, 'passing' | 'atLeast'> | null): string =>
  formatAtLeast(report?.passing ?? 0, report)

export const formatAtLeast = (count: number, report: Pick<FlowReport, 'atLeast'> | null): string =>
  `${report?.atLeast ? '≥ ' : ''}${formatCount(count)}`

/** Three digits at most: 612 ms, 8.4 ms, 0.12 ms. */
export function formatMs(ms: number): string {
  if (ms >= 10) return `${Math.round(ms)} ms`
  return `${ms >= 1 ? ms.toFixed(1) : ms.toFixed(2)} ms`
}

export function formatBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} kB`
  return `${Math.round(bytes / 1_000_000)} MB`
}

export const formatWhen = (ms: number): string => when.format(ms)
