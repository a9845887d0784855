/** Where a number stands in an ascending list; −1: it is not in it. Logarithmic. */
export function placeIn(ascending: Uint32Array, wanted: number): number {
  let low = 0
  let high = ascending.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (ascending[middle] < wanted) low = middle + 1
    else high = middle
  }
  return ascending[low] === wanted ? low : -1
}
