/**
 * Which thread does each piece of work: 0 the one that asks and has `own` to do already, 1 and on `others`. The dearest
 * goes first to whoever has the least to do, which is at most a third longer than the best there is (Graham 1969).
 */
export function shareOut(costs: readonly number[], own: number, others: number): number[] {
  const loads = [own, ...new Array<number>(others).fill(0)]
  const owners = costs.map(() => 0)
  const dearest = costs.map((_, i) => i).sort((a, b) => costs[b] - costs[a])
  for (const piece of dearest) {
    const least = loads.indexOf(Math.min(...loads))
    owners[piece] = least
    loads[least] += costs[piece]
  }
  return owners
}
