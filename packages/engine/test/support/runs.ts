/**
 * How often a property is tried: `often` times in `./check`; as many more as `SOAK` says (`npm run soak`) when time is
 * no matter, so that the properties of 1,000 cases get 100,000.
 */
export const runs = (often: number): { numRuns: number } => ({
  numRuns: Math.round(often * Number(process.env.SOAK ?? 1)),
})
