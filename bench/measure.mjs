// Rounds of interleaved runs; every figure is a ratio to the baseline of the same round.

const quantile = (values, share) => {
  const sorted = [...values].sort((a, b) => a - b)
  const at = (sorted.length - 1) * share
  const low = Math.floor(at)
  return sorted[low] + (sorted[Math.ceil(at)] - sorted[low]) * (at - low)
}
export const median = values => quantile(values, 0.5)
export const p95 = values => quantile(values, 0.95)

/** A browser's clock goes on by this much at a time: what is quicker takes no time at all by it. */
const TICK_MS = 0.005

/**
 * Runs each variant once a round, in turn. `variants`: name → function of the round's number, which may return a
 * promise. The first is the baseline. The first round is not measured, so that what will run is compiled; where it
 * took longer than `slowMs` it is the only one, and is measured.
 */
export async function compare(variants, { rounds = 7, slowMs = 4000 } = {}) {
  const names = Object.keys(variants)
  const times = Object.fromEntries(names.map(name => [name, []]))
  const run = async (name, round) => {
    const started = performance.now()
    await variants[name](round)
    return performance.now() - started
  }
  const first = {}
  for (const name of names) first[name] = await run(name, -1)
  if (Object.values(first).some(ms => ms > slowMs)) for (const name of names) times[name].push(first[name])
  else
    for (let round = 0; round < rounds; round++)
      for (const name of names) times[name].push(await run(name, round))
  const base = times[names[0]]
  return Object.fromEntries(
    names.map(name => {
      const ratios = times[name].map((ms, i) => ms / Math.max(base[i], TICK_MS))
      return [
        name,
        {
          median: round3(median(times[name])),
          p95: round3(p95(times[name])),
          ratio: round3(median(ratios)),
          ratioP95: round3(p95(ratios)),
          runs: times[name].length,
        },
      ]
    }),
  )
}

export const round3 = value => Math.round(value * 1000) / 1000
