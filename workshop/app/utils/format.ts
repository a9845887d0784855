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

const places = [0, 1, 2].map(
  digits => new Intl.NumberFormat(locale, { minimumFractionDigits: digits, maximumFractionDigits: digits }),
)

/** Three digits at most: 118 s, 7.5 s, 612 ms, 8.4 ms, 0.12 ms. */
export function formatMs(ms: number): string {
  const seconds = Math.round(ms) >= 1000
  const figure = seconds ? ms / 1000 : ms
  const digits = figure >= 10 ? 0 : seconds || figure >= 1 ? 1 : 2
  return `${places[digits]!.format(figure)} ${seconds ? 's' : 'ms'}`
}

export function formatBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} kB`
  return `${Math.round(bytes / 1_000_000)} MB`
}

export const formatWhen = (ms: number): string => when.format(ms)
