import type { Summary } from '@vast-meadow/engine'
import { make, makeOption } from '../../kernel/dom.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import { summaryName } from '../../kernel/arrangement-speaker.ts'
import { TotalsBand } from './totals-band.ts'

/** What columns come to: the line of all passing rows, and the choice of summaries in a column's card. */
export function totals(kernel: Kernel): Feature {
  const { model, texts, screen, summaries, format } = kernel
  const band = new TotalsBand({
    name() {
      const passing = kernel.report?.passing ?? 0
      return texts.allRows(format(passing), passing)
    },
    summaryOf(column) {
      const summary = model.arrangement.summaries[column] as Summary | undefined
      return summary === undefined
        ? null
        : { what: summaryName(summary, texts, kernel.options.parts), value: summaries.textOfAll(column) }
    },
    covered: () => screen.coveredColumns,
  })
  const place = (): void => {
    const at = model.definition?.totals ?? 'none'
    const shown = at !== 'none' && summaries.columns.length > 0
    screen.setTotals(shown ? band : null, at === 'head' ? 'head' : 'foot')
  }
  let covered = screen.coveredColumns
  return {
    name: 'totals',
    drawn() {
      if (screen.coveredColumns === covered) return
      covered = screen.coveredColumns
      band.update()
    },
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
