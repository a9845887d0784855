/** Letters of a name that say what it is about. */
const plain = (name: string): string => name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')

/**
 * The name among others that is most likely meant: the same but for case and signs, else the one with the fewest
 * letters changed, at most a third of them; null where none is near.
 */
export function nearestName(wanted: string, names: readonly string[]): string | null {
  const target = plain(wanted)
  let best: string | null = null
  let fewest = Math.max(1, Math.floor(target.length / 3)) + 1
  for (const name of names) {
    const changes = editDistance(target, plain(name), fewest)
    if (changes < fewest) {
      best = name
      fewest = changes
    }
  }
  return best
}

/** Letters to add, take away, change or swap with their neighbour (Damerau's distance, adjacent swaps); at most `most`. */
function editDistance(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) >= most) return most
  let twoBack: number[] = []
  let back = Array.from({ length: b.length + 1 }, (_, i) => i)
  for (let i = 1; i <= a.length; i++) {
    const row = [i]
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1]
      let least = Math.min(back[j] + 1, row[j - 1] + 1, back[j - 1] + (same ? 0 : 1))
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        least = Math.min(least, twoBack[j - 2] + 1)
      row.push(least)
    }
    twoBack = back
    back = row
  }
  return Math.min(most, back[b.length])
}
