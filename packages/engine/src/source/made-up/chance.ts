/**
 * Random numbers that can be asked for in any order: a hash of seed, column and row instead of a sequence, so that
 * one cell costs the same wherever it lies. The mixing steps are those of MurmurHash3's 32-bit finaliser; only whole
 * numbers and products are used, so that every engine comes to the same rows.
 */
function mix(value: number): number {
  let h = value
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}

/** A stream's own start, from the recipe's seed and the column's place. */
export const streamSeed = (seed: number, column: number): number =>
  mix(Math.imul(seed, 0x9e3779b1) + column * 0x632be5ab)

/** A number from 0 up to 1 for a row; `draw` tells several draws for the same cell apart. */
export function chance(stream: number, row: number, draw = 0): number {
  return mix(stream ^ mix(row + Math.imul(draw + 1, 0x27d4eb2f))) / 4_294_967_296
}

/** A chance raised to a small whole power, which favours the lower end. */
export function leaning(chance: number, lean: number): number {
  let out = chance
  for (let i = 1; i < lean; i++) out *= chance
  return out
}
