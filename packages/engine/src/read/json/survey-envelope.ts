import { decodeBytes } from '../../table/text-block.ts'
import type { JsonDetails } from '../read-report.ts'
import type { JsonStream } from './json-stream.ts'
import { BROKEN } from './scan-json.ts'
import { sure } from '../../work/checked.ts'

const MAX_DEPTH = 5
const MAX_BESIDE = 60
const MAX_TEXT = 80

export interface Envelope {
  readonly lists: { path: string; length: number; rows: boolean }[]
  readonly beside: { path: string; text: string }[]
}

/** What a document holds around its rows: its lists with their lengths, and the single values beside them. */
export async function surveyEnvelope(stream: JsonStream): Promise<Envelope> {
  const envelope: Envelope = { lists: [], beside: [] }
  await surveyValue(stream, '', 0, envelope)
  return envelope
}

/** Takes a value; false when the text broke off. */
async function surveyValue(
  stream: JsonStream,
  path: string,
  depth: number,
  into: Envelope,
): Promise<boolean> {
  const first = await stream.peek()
  if (first === 91) return await surveyList(stream, path, into)
  if (first === 123 && depth < MAX_DEPTH) {
    stream.at++
    while ((await stream.peek()) !== 125) {
      const key = await takeKey(stream)
      if (key === null) return false
      if (!(await surveyValue(stream, path ? `${path}.${key}` : key, depth + 1, into))) return false
      if ((await stream.peek()) === 44) stream.at++
    }
    stream.at++
    return true
  }
  const end = await stream.value()
  if (end === BROKEN) throw stream.problem()
  if (first !== 123 && into.beside.length < MAX_BESIDE) {
    const text = decodeBytes(stream.bytes, stream.at, end)
    into.beside.push({ path, text: text.slice(0, MAX_TEXT) })
  }
  stream.at = end
  return true
}

async function surveyList(stream: JsonStream, path: string, into: Envelope): Promise<boolean> {
  stream.at++
  const list = { path, length: 0, rows: false }
  into.lists.push(list)
  for (;;) {
    const byte = await stream.peek()
    if (byte === -1) return false
    if (byte === 93) break
    if (byte === 44) {
      stream.at++
      continue
    }
    if (list.length === 0) list.rows = byte === 123 || byte === 91
    list.length++
    const end = await stream.value()
    if (end !== BROKEN) stream.at = end
    else if (!(await stream.passBroken())) return false
  }
  stream.at++
  return true
}

/** Takes `"key":`; null where there is none. */
export async function takeKey(stream: JsonStream): Promise<string | null> {
  if ((await stream.peek()) !== 34) {
    if ((await stream.peek()) === -1) return null
    await stream.value()
    throw stream.problem()
  }
  const end = await stream.value()
  if (end === BROKEN) throw stream.problem()
  const key = String(JSON.parse(decodeBytes(stream.bytes, stream.at, end)))
  stream.at = end
  if ((await stream.peek()) !== 58) return null
  stream.at++
  return key
}

/** The list that is most likely the rows: of objects or lists if there is any, the longest of those. */
export function likeliestRows(lists: Envelope['lists']): string | null {
  const best = [...lists].sort((a, b) => Number(b.rows) - Number(a.rows) || b.length - a.length)[0]
  return best ? best.path : null
}

/** A whole number beside the rows whose name says that it counts them, and that is not less than they are. */
export function toldTotal(beside: Envelope['beside'], rows: number): JsonDetails['total'] {
  const counts = beside.filter(
    ({ path, text }) => /total|count/i.test(sure(path.split('.').at(-1))) && /^\d{1,15}$/.test(text),
  )
  const best = counts
    .map(({ path, text }) => ({ path, rows: Number(text) }))
    .filter(total => total.rows >= rows)
    .sort((a, b) => Number(/total/i.test(b.path)) - Number(/total/i.test(a.path)))[0]
  return best ?? null
}
