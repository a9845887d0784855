import { words } from '~/words'
import type { DetailPainter } from '@vast-meadow/grid'
import { byAnyName } from './try-actions'

/** Shows the row as it is given to the page's own painter, which is not here. */
const standIn = (name: string): DetailPainter => ({
  create(place) {
    place.style.padding = '12px 18px'
    const about = document.createElement('p')
    about.style.margin = '0'
    about.textContent = words.tryActions.yourPageDraws(`parts.details.${name}`)
    const record = document.createElement('pre')
    record.style.margin = '6px 0 0'
    record.style.whiteSpace = 'pre-wrap'
    place.append(about, record)
    return record
  },
  update(state, { record }) {
    if (state instanceof HTMLElement) state.textContent = JSON.stringify(record, null, 2)
  },
})

/** A painter of details for every name: each shows what the page's own would be given. */
export const triedDetails = byAnyName(standIn)
