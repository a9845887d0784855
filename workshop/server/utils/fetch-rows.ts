import { lookup } from 'node:dns/promises'
import { request as requestHttp, type IncomingMessage } from 'node:http'
import { request as requestHttps } from 'node:https'
import type { LookupFunction } from 'node:net'
import { checkAddress, mayBeAt, type Guard } from './guard'

/** Told to the page as it is. */
export class RowsError extends Error {
  readonly status: number
  constructor(status: number, message: string) {
    super(message)
    this.status = status
  }
}

const MOST_REDIRECTS = 3

/** What is asked of a host. */
export interface HostQuestion {
  readonly method: 'GET' | 'POST' | 'PATCH' | 'DELETE'
  readonly headers: Readonly<Record<string, string>>
  readonly body?: string
  /** Aborted: the question is given up. */
  readonly signal?: AbortSignal
}

export interface HostAnswer {
  readonly status: number
  readonly headers: IncomingMessage['headers']
  readonly body: Buffer
}

/** Fetches rows from a listed host. */
export async function fetchRows(address: string, guard: Guard): Promise<Buffer> {
  const accept = 'application/json, text/csv, application/x-ndjson, */*'
  const { status, body } = await askHost(address, guard, { method: 'GET', headers: { accept } })
  if (status < 200 || status >= 300)
    throw new RowsError(502, `${new URL(address).host} answers with status ${status}.`)
  return body
}

/** Asks a listed host. Every redirect is checked anew; the host is reached at the very address checked. */
export async function askHost(
  address: string,
  guard: Guard,
  question: HostQuestion,
  redirects = 0,
): Promise<HostAnswer> {
  const read = checkAddress(address, guard)
  if (!read.ok) throw new RowsError(403, read.problem)
  const { url } = read
  const found = await lookup(url.hostname.replace(/^\[|\]$/g, '')).catch(() => null)
  if (!found) throw new RowsError(502, `There is no host called ${url.hostname}.`)
  if (!mayBeAt(url, found.address))
    throw new RowsError(403, `${url.hostname} leads into a private network, which is not fetched from.`)
  const answer = await ask(url, found.address, found.family, guard, question)
  const { statusCode = 0, headers } = answer
  if (statusCode >= 300 && statusCode < 400 && headers.location) {
    answer.destroy()
    if (question.method !== 'GET')
      throw new RowsError(502, `${url.host} leads to another address, where nothing is changed.`)
    if (redirects >= MOST_REDIRECTS)
      throw new RowsError(502, `${url.host} only leads from address to address.`)
    return await askHost(new URL(headers.location, url).href, guard, question, redirects + 1)
  }
  return { status: statusCode, headers, body: await bodyOf(answer, url, guard) }
}

/** Node asks with or without `all`, and wants its answer accordingly. */
const pinnedTo =
  (ip: string, family: number): LookupFunction =>
  (_host, options, done) => {
    const answer = done as unknown as (error: null, address: unknown, family?: number) => void
    if (options.all) answer(null, [{ address: ip, family }])
    else answer(null, ip, family)
  }

function ask(
  url: URL,
  ip: string,
  family: number,
  guard: Guard,
  { method, headers, body, signal }: HostQuestion,
): Promise<IncomingMessage> {
  return new Promise((resolve, reject) => {
    const request = url.protocol === 'https:' ? requestHttps : requestHttp
    const asked = request(
      url,
      {
        method,
        headers: { ...headers, 'user-agent': 'vast-meadow' },
        signal: AbortSignal.any([AbortSignal.timeout(guard.mostMs), ...(signal ? [signal] : [])]),
        lookup: pinnedTo(ip, family),
      },
      resolve,
    )
    asked.on('error', error => reject(lineError(error, url, guard)))
    asked.end(body)
  })
}

async function bodyOf(answer: IncomingMessage, url: URL, guard: Guard): Promise<Buffer> {
  const chunks: Buffer[] = []
  let size = 0
  try {
    for await (const chunk of answer as AsyncIterable<Buffer>) {
      size += chunk.length
      if (size > guard.mostBytes)
        throw new RowsError(413, `${url.host} answers with more than ${guard.mostBytes / 2 ** 20} MB.`)
      chunks.push(chunk)
    }
  } catch (error) {
    throw error instanceof RowsError ? error : lineError(error as Error, url, guard)
  }
  // The two typings of bytes that are at hand here do not agree.
  return Buffer.concat(chunks as unknown as Uint8Array[])
}

const lineError = (error: Error, url: URL, guard: Guard): RowsError =>
  error.name === 'TimeoutError' || error.name === 'AbortError'
    ? new RowsError(504, `${url.host} did not answer within ${guard.mostMs / 1000} seconds.`)
    : new RowsError(502, `${url.host} could not be reached: ${error.message}`)
