import { keysIn } from '../work/checked.ts'
import { sameJson } from '../work/same-json.ts'
import type { Arrangement } from './arrangement-schema.ts'
import { readArrangement } from './read-arrangement.ts'

/** What links begin with: the form of what follows. */
const VERSION = 1
const LEAD = 'a'
/** Characters of a link, and of what it holds, that are read at most. */
export const MOST_LINK_CHARACTERS = 64_000
const MOST_TEXT_BYTES = 2_000_000

/** Why a link cannot be read. */
export interface LinkProblem {
  readonly code: 'link-newer' | 'link-too-long' | 'link-damaged' | 'link-no-arrangement'
  /** Where in the arrangement, and what is wrong there; empty: nowhere in particular. */
  readonly at: string
}

export type LinkResult =
  | { readonly ok: true; readonly arrangement: Partial<Arrangement> }
  | { readonly ok: false; readonly problem: LinkProblem }

/**
 * An arrangement as a short text that addresses can hold as it is: letters, digits, `-`, `_` and one `.`. It says what
 * differs from the start alone, so that whoever opens it has all else as the grid starts by then.
 */
export async function arrangementToLink(arrangement: Arrangement, start: Arrangement): Promise<string> {
  const differing = keysIn(arrangement).filter(key => !sameJson(arrangement[key], start[key]))
  const text = JSON.stringify(Object.fromEntries(differing.map(key => [key, arrangement[key]])))
  const packed = await through(new CompressionStream('deflate-raw'), new TextEncoder().encode(text), Infinity)
  return `${LEAD}${VERSION}.${toUrlText(packed)}`
}

/** Reads what `arrangementToLink` wrote. Whatever else it is given, it says what is wrong and takes nothing of it. */
export async function arrangementFromLink(link: string): Promise<LinkResult> {
  const refuse = (code: LinkProblem['code'], at = ''): LinkResult => ({ ok: false, problem: { code, at } })
  if (link.length > MOST_LINK_CHARACTERS) return refuse('link-too-long')
  const [, version = '', body = ''] = /^a(\d{1,4})\.([\w-]+)$/.exec(link) ?? []
  if (!version) return refuse('link-damaged')
  if (Number(version) > VERSION) return refuse('link-newer')
  let json: unknown
  try {
    const text = await through(new DecompressionStream('deflate-raw'), fromUrlText(body), MOST_TEXT_BYTES)
    json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(text))
  } catch (error) {
    return refuse(error instanceof RangeError ? 'link-too-long' : 'link-damaged')
  }
  const read = readArrangement(json, null)
  if (read.ok) return { ok: true, arrangement: read.arrangement }
  const [{ path, message }] = read.problems
  return refuse('link-no-arrangement', `${path}: ${message}`)
}

/** What comes out of a stream; throws a `RangeError` beyond so many bytes, before more are made. */
async function through(
  stream: CompressionStream | DecompressionStream,
  bytes: Uint8Array<ArrayBuffer>,
  most: number,
): Promise<Uint8Array<ArrayBuffer>> {
  const writer = stream.writable.getWriter()
  // What is wrong with the input is told where it is read.
  writer.write(bytes).catch(() => {})
  writer.close().catch(() => {})
  const parts: Uint8Array[] = []
  let length = 0
  const reader = stream.readable.getReader()
  for (let next = await reader.read(); !next.done; next = await reader.read()) {
    const part: Uint8Array = next.value
    length += part.length
    if (length > most) {
      await reader.cancel()
      throw new RangeError(`A link holds more than ${most} bytes.`)
    }
    parts.push(part)
  }
  const all = new Uint8Array(length)
  let at = 0
  for (const part of parts) {
    all.set(part, at)
    at += part.length
  }
  return all
}

/** Base 64 as RFC 4648 has it for addresses, without padding. */
function toUrlText(bytes: Uint8Array): string {
  let text = ''
  for (const byte of bytes) text += String.fromCharCode(byte)
  return btoa(text).replaceAll('+', '-').replaceAll('/', '_').replaceAll('=', '')
}

function fromUrlText(text: string): Uint8Array<ArrayBuffer> {
  const bytes = atob(text.replaceAll('-', '+').replaceAll('_', '/'))
  return Uint8Array.from(bytes, character => character.charCodeAt(0))
}
