/** What a row of the seed library has that its card shows. */
export interface Seed {
  readonly accession: string
  readonly name: string
  readonly picture_address: string | null
  readonly remark: string | null
  readonly keeper: string | null
  readonly shelf: string | null
  readonly 'germination %': number | null
  readonly age: number | null
}

export interface SeedTest {
  readonly year: number
  readonly percent: number
}

const THIS_YEAR = 2026
/** Seed is tested for so many years at most. */
const MOST_TESTS = 12
/** Seed loses so many percent a year, more or less. */
const LOSS = 3.1
const [USUAL_PERCENT, USUAL_YEARS] = [50, 4]

/** Made-up tests of an accession that end in what was found last; the same ones for the same accession. */
export function seedTests({ accession, age, ...seed }: Seed): SeedTest[] {
  const last = seed['germination %'] ?? USUAL_PERCENT
  const years = Math.max(2, Math.min(MOST_TESTS, age ?? USUAL_YEARS))
  let state = [...accession].reduce((sum, sign) => (sum * 31 + sign.charCodeAt(0)) % 9973, 7)
  return Array.from({ length: years }, (_, nth): SeedTest => {
    state = (state * 137 + 11) % 9973
    const back = years - 1 - nth
    const drift = back * LOSS + (back > 0 ? (state % 9) - 4 : 0)
    return { year: THIS_YEAR - back, percent: Math.round(Math.max(2, Math.min(99, last + drift))) }
  })
}
