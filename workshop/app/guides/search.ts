import MiniSearch from 'minisearch'
import { allGuides } from './guides'
import { sectionsOf, type Section } from './sections'

/** A part of a guide that was found. */
export interface Found {
  readonly id: string
  readonly guide: string
  readonly heading: string
}

const MOST_FOUND = 12
let index: Promise<MiniSearch<Section>> | null = null

/** All guides are read when the first is searched for. */
async function built(): Promise<MiniSearch<Section>> {
  const search = new MiniSearch<Section>({
    fields: ['heading', 'guide', 'text'],
    storeFields: ['guide', 'heading'],
    searchOptions: { boost: { heading: 4, guide: 2 }, prefix: true, fuzzy: 0.15, combineWith: 'AND' },
  })
  search.addAll((await allGuides()).flatMap(sectionsOf))
  return search
}

/** The parts of guides that hold all words, the nearest first. */
export async function findInGuides(text: string): Promise<readonly Found[]> {
  index ??= built()
  const found = (await index).search(text)
  return found.slice(0, MOST_FOUND).map(({ id, guide, heading }) => ({
    id: String(id),
    guide: String(guide),
    heading: String(heading),
  }))
}
