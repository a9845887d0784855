/** A number of 16 bits (IEEE 754 binary16). */
export function halfFloat(bits: number): number {
  const sign = bits & 0x8000 ? -1 : 1
  const exponent = (bits >> 10) & 31
  const fraction = bits & 1023
  if (exponent === 0) return sign * 2 ** -24 * fraction
  if (exponent === 31) return fraction === 0 ? sign * Infinity : NaN
  return sign * 2 ** (exponent - 15) * (1 + fraction / 1024)
}
