import type { SourceRemark } from '../question/source-remark.ts'
import { TYPE_NAMES } from './read-report-text.ts'

export function remarkText(remark: SourceRemark): string {
  switch (remark.code) {
    case 'made-up':
      return 'The rows are made up from a recipe.'
    case 'computed':
      return 'Rows are computed from their number, so they cannot be ordered, narrowed, searched or grouped.'
    case 'grown':
      return `Rows from ${remark.rows + 1} on are made up: whole rows drawn from the first ${remark.rows}, whose distributions they follow.`
    case 'other-type':
      return `“${remark.field}” read as ${TYPE_NAMES[remark.first]} in the first ${remark.rows} rows, and is ${TYPE_NAMES[remark.type]} by all.`
    case 'parts-in-page':
      return `The engine runs in the page, because conditions or summaries of your own (${remark.names.join(', ')}) need a worker of your own that hands them to serveEngine.`
    case 'no-worker':
      return `The engine runs in the page, because its worker could not be started: ${remark.reason}`
    case 'all-fetched':
      return `All ${remark.rows} rows were fetched, so that the page does everything with them.`
    case 'left-out':
      return `Left out, because no cell can show them: ${remark.names.join(', ')}.`
    case 'broken-off':
      return `No further rows could be had: ${remark.reason}`
  }
}
