import { searchWords } from '@vast-meadow/engine/client'

/** The search with one of its words changed, or left out. */
export function replaceWord(search: string, word: string, by: string): string {
  const written = by.includes(' ') ? `"${by}"` : by
  return [...search.matchAll(/"[^"]*"?|\S+/g)]
    .map(([one]) => (searchWords(one)[0] === word ? written : one))
    .filter(Boolean)
    .join(' ')
}
