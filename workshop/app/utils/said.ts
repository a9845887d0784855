/** Settings without those that were taken away; they are not kept as empty ones. */
export function said<T extends object>(settings: T): T {
  const kept = Object.entries(settings).filter(([, value]) => value !== undefined && value !== null)
  // Only what is optional can be left open.
  return Object.fromEntries(kept) as T
}
