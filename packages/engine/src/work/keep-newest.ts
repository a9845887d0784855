/** Takes out of a map what it has had for longest, until it holds no more than `most`; maps list keys as they were set. */
export function keepNewest<Key>(map: Map<Key, unknown>, most: number): void {
  for (const key of map.keys()) {
    if (map.size <= most) return
    map.delete(key)
  }
}
