// The floor: each operation as a bare loop over typed arrays, made for this one case, with its indexes ready.

const iota = n => Uint32Array.from({ length: n }, (_, i) => i)

export function countingSort(keys, size, rows, down = false) {
  const n = keys.length
  const places = new Uint32Array(size + 1)
  for (let i = 0; i < n; i++) places[keys[i]]++
  let start = 0
  for (let k = 0; k < size; k++) {
    const code = down ? size - 1 - k : k
    const count = places[code]
    places[code] = start
    start += count
  }
  const out = new Uint32Array(n)
  if (rows) for (let i = 0; i < n; i++) out[places[keys[rows[i]]]++] = rows[i]
  else for (let i = 0; i < n; i++) out[places[keys[i]]++] = i
  return out
}

export function scaledCodes(values, scale) {
  let low = Infinity
  let high = -Infinity
  for (let i = 0; i < values.length; i++) {
    if (values[i] < low) low = values[i]
    if (values[i] > high) high = values[i]
  }
  const base = Math.round(low * scale)
  const codes = new Uint32Array(values.length)
  for (let i = 0; i < values.length; i++) {
    const code = Math.round(values[i] * scale)
    if (code / scale !== values[i]) return null
    codes[i] = code - base
  }
  return { codes, size: Math.round(high * scale) - base + 1 }
}

/** Radix over the high words of the numbers, then insertion within the few runs that tie. */
export function radixFloats(values) {
  const n = values.length
  const words = new Uint32Array(values.buffer, values.byteOffset, n * 2)
  const high = new Uint32Array(n)
  const low = new Uint32Array(n)
  for (let i = 0; i < n; i++) {
    const top = words[2 * i + 1]
    const mask = top >> 31
    high[i] = top ^ (mask | 0x80000000)
    low[i] = words[2 * i] ^ mask
  }
  let from = null
  for (const shift of [0, 11, 22]) {
    const places = new Uint32Array(2048)
    for (let i = 0; i < n; i++) places[(high[i] >>> shift) & 2047]++
    let start = 0
    for (let d = 0; d < 2048; d++) {
      const count = places[d]
      places[d] = start
      start += count
    }
    const out = new Uint32Array(n)
    if (from) for (let i = 0; i < n; i++) out[places[(high[from[i]] >>> shift) & 2047]++] = from[i]
    else for (let i = 0; i < n; i++) out[places[(high[i] >>> shift) & 2047]++] = i
    from = out
  }
  for (let i = 1; i < n; i++) {
    const row = from[i]
    let at = i - 1
    while (at >= 0 && high[from[at]] === high[row] && low[from[at]] > low[row]) {
      from[at + 1] = from[at]
      at--
    }
    from[at + 1] = row
  }
  return from
}

export function ranksOf(texts, collator) {
  const order = iota(texts.length).sort((a, b) => collator.compare(texts[a], texts[b]))
  const ranks = new Uint32Array(texts.length)
  order.forEach((code, rank) => (ranks[code] = rank))
  return ranks
}

export function remap(codes, ranks) {
  const out = new Uint32Array(codes.length)
  for (let i = 0; i < codes.length; i++) out[i] = ranks[codes[i]]
  return out
}

/** Many different texts: packed weights of the first letters, radix, then the collator within ties. */
export function sortTexts(texts, collator) {
  const chars = [...new Set(texts.join(''))].sort(
    new Intl.Collator(collator.resolvedOptions().locale, { sensitivity: 'base' }).compare,
  )
  const base = new Intl.Collator(undefined, { sensitivity: 'base' })
  const weight = new Uint8Array(65_536)
  let next = 1
  chars.forEach((char, i) => {
    if (i && base.compare(chars[i - 1], char) !== 0) next++
    weight[char.charCodeAt(0)] = next
  })
  const bits = 32 - Math.clz32(next)
  const per = Math.floor(32 / bits)
  const n = texts.length
  const keys = [0, 1, 2, 3].map(() => new Uint32Array(n))
  for (let i = 0; i < n; i++) {
    for (let w = 0; w < 4; w++) {
      let key = 0
      for (let j = 0; j < per; j++)
        key = (key << bits) | (w * per + j < texts[i].length ? weight[texts[i].charCodeAt(w * per + j)] : 0)
      keys[w][i] = key >>> 0
    }
  }
  let rows = iota(n)
  for (let w = 3; w >= 0; w--) rows = radixKeys(keys[w], rows)
  for (let i = 0; i < n;) {
    let j = i + 1
    while (j < n && keys.every(key => key[rows[j]] === key[rows[i]])) j++
    if (j - i > 1) rows.subarray(i, j).sort((a, b) => collator.compare(texts[a], texts[b]) || a - b)
    i = j
  }
  return rows
}

function radixKeys(keys, rows) {
  const n = rows.length
  for (const shift of [0, 11, 22]) {
    const places = new Uint32Array(2048)
    for (let i = 0; i < n; i++) places[(keys[i] >>> shift) & 2047]++
    let start = 0
    for (let d = 0; d < 2048; d++) {
      const count = places[d]
      places[d] = start
      start += count
    }
    const out = new Uint32Array(n)
    for (let i = 0; i < n; i++) out[places[(keys[rows[i]] >>> shift) & 2047]++] = rows[i]
    rows = out
  }
  return rows
}

export function joinTexts(strings, chunk = 65_536) {
  const parts = []
  for (let from = 0; from < strings.length; from += chunk) {
    const some = strings.slice(from, from + chunk).map(text => text.toLowerCase())
    const starts = new Uint32Array(some.length + 1)
    some.forEach((text, i) => (starts[i + 1] = starts[i] + text.length + 1))
    parts.push({ from, text: some.join('\n'), starts })
  }
  return parts
}

export function findJoined(parts, word, flags) {
  for (const { from, text, starts } of parts) {
    let row = 0
    for (let at = text.indexOf(word); at !== -1; at = text.indexOf(word, starts[row])) {
      while (starts[row + 1] <= at) row++
      flags[from + row] = 1
      if (++row >= starts.length - 1) break
    }
  }
}

export function findCoded({ codes, texts }, word, flags) {
  const hits = Uint8Array.from(texts, text => (text.toLowerCase().includes(word) ? 1 : 0))
  for (let i = 0; i < codes.length; i++) flags[i] |= hits[codes[i]]
}

export function rowsOf(flags) {
  let count = 0
  for (let i = 0; i < flags.length; i++) count += flags[i]
  const out = new Uint32Array(count)
  for (let i = 0, at = 0; at < count; i++) {
    out[at] = i
    at += flags[i]
  }
  return out
}

/** Count, sum, least, largest and mean of numbers by group. */
export function fiveSummaries(codes, groups, values) {
  const count = new Uint32Array(groups)
  const sum = new Float64Array(groups)
  const min = new Float64Array(groups).fill(Infinity)
  const max = new Float64Array(groups).fill(-Infinity)
  for (let i = 0; i < codes.length; i++) {
    const group = codes[i]
    const value = values[i]
    count[group]++
    sum[group] += value
    if (value < min[group]) min[group] = value
    if (value > max[group]) max[group] = value
  }
  const mean = sum.map((total, group) => total / count[group])
  return { count, sum, min, max, mean }
}
