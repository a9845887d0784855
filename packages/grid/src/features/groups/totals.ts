import type { Summary } from '@vast-meadow/engine'
import { make, makeOption } from '../../kernel/dom.ts'
import type { Feature, SummaryLine } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { summaryName } from '../../kernel/arrangement-speaker.ts'
import { TOTALS_HEIGHT } from '../../look/heights.ts'
import { TotalsBand } from './totals-band.ts'

/** Of the room between head and foot, lines of summaries take this part at most. */
const MOST_OF_ROOM = 0.3

/** What columns come to: the line of all passing rows, and the choice of summaries in a column's card. */
export function totals(kernel: Kernel): Feature {
  const { model, texts, screen, summaries, features, format } = kernel
  const band = new TotalsBand({
    parted: texts.parted,
    name() {
      const passing = kernel.report?.passing ?? 0
      const isAll = kernel.view?.counts.total.kind !== 'at-least'
      return isAll ? texts.allRows(format(passing), passing) : texts.firstRows(format(passing), passing)
    },
    summaryOf(column) {
      const summary = model.arrangement.summaries[column] as Summary | undefined
      return summary === undefined
        ? null
        : { what: summaryName(summary, texts, kernel.options.parts), value: summaries.textOfAll(column) }
    },
    covered: () => screen.coveredColumns,
  })
  /** Lines of other features, each with the band that it is drawn in. */
  const others: { line: SummaryLine; band: TotalsBand }[] = []
  const place = (): void => {
    const at = model.definition?.totals ?? 'none'
    const own = at !== 'none' && summaries.columns.length > 0
    // In a small frame rows come first: what was picked last says more than all rows do.
    const room = Math.max(1, Math.floor((screen.viewport.height * MOST_OF_ROOM) / TOTALS_HEIGHT))
    const wanted = at === 'none' ? [] : features.all(feature => feature.summaryLines?.() ?? []).flat()
    const lines = wanted.slice(0, own && room > 1 ? room - 1 : room)
    for (const [nth, line] of lines.entries()) {
      if (others[nth]) others[nth].line = line
      else others.push(bandOf(line))
    }
    for (const { band } of others.splice(lines.length)) band.dispose()
    const shown = own && (room > 1 || lines.length === 0) ? [band] : []
    screen.setTotals([...shown, ...others.map(other => other.band)], at === 'head' ? 'head' : 'foot')
    for (const other of others) other.band.update()
  }
  function bandOf(line: SummaryLine): { line: SummaryLine; band: TotalsBand } {
    const made: { line: SummaryLine; band: TotalsBand } = {
      line,
      band: new TotalsBand({
        parted: texts.parted,
        name: () => made.line.name,
        summaryOf: column => made.line.summaryOf(column),
        covered: () => screen.coveredColumns,
      }),
    }
    made.band.element.classList.add('of-some')
    return made
  }
  let covered = screen.coveredColumns
  let height = 0
  return {
    name: 'totals',
    drawn() {
      // In a frame of another height there is room for more or fewer.
      if (screen.viewport.height !== height) {
        height = screen.viewport.height
        place()
      }
      if (screen.coveredColumns === covered) return
      covered = screen.coveredColumns
      band.update()
      for (const other of others) other.band.update()
    },
    summaryLinesDiffer: place,
    refresh: place,
    defined: place,
    viewed: () => band.update(),
    summarised: () => band.update(),
    cardPart(column) {
      const offered = model.summariesOf(column)
      if (offered.length === 0) return null
      const now = model.arrangement.summaries[column] as Summary | undefined
      const part = make('label', 'field')
      make('span', '', part).textContent = texts.summary
      const pick = make('select', '', part)
      pick.dataset.control = 'summary'
      const names = offered.map(summary => JSON.stringify(summary))
      if (now !== undefined && !names.includes(JSON.stringify(now))) names.push(JSON.stringify(now))
      makeOption(pick, '', texts.noSummary)
      for (const name of names)
        makeOption(pick, name, summaryName(JSON.parse(name) as Summary, texts, kernel.options.parts))
      pick.value = now === undefined ? '' : JSON.stringify(now)
      pick.onchange = () =>
        model.setSummary(column, pick.value === '' ? null : (JSON.parse(pick.value) as Summary))
      return part
    },
  }
}
