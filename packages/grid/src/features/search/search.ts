import { NO_LINE, searchWords } from '@vast-meadow/engine/client'
import { isOwnColumn } from '../../band/geometry.ts'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'
import type { Hindering } from '../../kernel/state-view.ts'
import { replaceWord } from './replace-word.ts'
import { SearchBox } from './search-box.ts'
import { SearchMarks } from './search-marks.ts'

/** Of the grid's handle: the way through what the search marks. */
export interface SearchHandle {
  /** Goes to the next cell that the search marks, or to the one before. */
  toMatch(step: 1 | -1): Promise<void>
}

/** One search over all columns: its field, its marks in the cells, and the way from one to the next. */
export function search(kernel: Kernel): Feature {
  const { model, texts, screen, navigator, bar, disposal, format } = kernel
  const marks = new SearchMarks()
  disposal.add(() => marks.clear())
  const setSearch = (text: string): void => void model.apply({ search: text }, 'reader')
  const box = new SearchBox(texts, { search: setSearch, toMatch: step => void toMatch(step) }, disposal)
  bar.addAtStart(box.input, box.matches)

  async function toMatch(step: 1 | -1): Promise<void> {
    if (!kernel.view) return
    const searched = model.searchColumns
    const columns = screen.columns.filter(column => !isOwnColumn(column) && searched.includes(column))
    const { line, column, placed } = navigator
    try {
      const found = await model.ask('findMatch', {
        view: kernel.view.id,
        search: model.arrangement.search,
        columns,
        from: { line: placed ? kernel.pager.ofView(line) : NO_LINE, column },
        step,
      })
      if (found) kernel.goTo(found.line, found.column)
    } catch (error) {
      kernel.failed(error)
    }
  }

  function* markedCells(): Iterable<Element> {
    const searched = new Set(model.searchColumns)
    for (const band of screen.body.shownBands())
      if (band.row !== null)
        for (const { element, column } of band.cells()) if (searched.has(column)) yield element
  }

  const handle: SearchHandle = { toMatch }
  return {
    name: 'search',
    handle,
    refresh: () => box.set(model.arrangement.search, (model.description?.can.search ?? true) === true),
    defined: ({ searchable }) => void (box.input.hidden = !searchable),
    viewed({ report }) {
      const found = report.stages.find(({ stage }) => stage === 'search')?.rowsOut ?? 0
      const searching = model.arrangement.search.trim() !== ''
      box.setFound(searching ? texts.found(format(found), found) : null)
    },
    drawn() {
      const words = searchWords(model.arrangement.search)
      if (words.length === 0) marks.clear()
      else marks.mark(markedCells(), words)
    },
    lifted: { search: '' },
    hindrances: ({ words }) =>
      words.map(({ word, meet, without, nearest }): Hindering => {
        const change = (by: string): void => setSearch(replaceWord(model.arrangement.search, word, by))
        return {
          what: texts.theWord(word),
          count: texts.hindrance(format(meet), format(without), meet),
          lift: () => change(''),
          instead: nearest === null ? null : { text: nearest, act: () => change(nearest) },
        }
      }),
  }
}
