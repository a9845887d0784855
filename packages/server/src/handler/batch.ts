import { QuestionError } from '../language/problem.ts'
import { BATCH, EVENTS, routeOf } from './route.ts'
import { HEADERS, onlyMethod, problemAnswer, textOf } from './answers.ts'

/** Requests of one batch. */
const MOST_IN_BATCH = 200
/** Of the batch's own headers, those that are not about the requests within. */
const OWN_HEADERS = ['accept', 'content-length', 'content-type', 'if-match', 'prefer', 'transfer-encoding']
/**
 * What a request within may say by headers. Who asks is told by the batch's own alone: hosts may trust headers that stand
 * there because something before them took out what readers send.
 */
const INNER_HEADERS = ['accept', 'content-type', 'if-match', 'odata-maxversion', 'odata-version', 'prefer']
const METHODS = ['GET', 'PATCH', 'POST', 'DELETE']

/** A request within a batch, by the names that the protocol gives its parts. */
interface Inner {
  readonly id: string
  readonly request: Request
}

/**
 * Answers a batch of requests (OData JSON 4.01, 19): one after another, each by itself, each answer with its own status.
 * Where one fails the rest is left undone, unless whoever asks prefers to go on. Several requests as one change are not
 * offered.
 */
export async function batchAnswer(
  request: Request,
  root: string,
  answer: (inner: Request) => Promise<Response>,
): Promise<Response> {
  onlyMethod(request, 'POST')
  const inner = await requestsIn(request, root)
  const goesOn = /\bcontinue-on-error\b(?!\s*=\s*false)/i.test(request.headers.get('prefer') ?? '')
  const answers: string[] = []
  for (const { id, request: one } of inner) {
    // What was done before stays done, and is told.
    const given = await answer(one).catch((error: unknown) =>
      problemAnswer(error instanceof QuestionError ? error.problem : { code: 'failed' }),
    )
    answers.push(await written(id, given))
    if (!given.ok && !goesOn) break
  }
  return new Response(`{"responses":[${answers.join(',')}]}`, {
    headers: {
      ...HEADERS,
      'content-type': 'application/json',
      ...(goesOn ? { 'preference-applied': 'continue-on-error' } : {}),
    },
  })
}

async function requestsIn(request: Request, root: string): Promise<Inner[]> {
  // Pages of other hosts cannot send this type without being asked whether they may.
  if (!/^application\/json\b/i.test(request.headers.get('content-type') ?? ''))
    throw new QuestionError({ code: 'not-json' })
  let body: unknown
  try {
    body = JSON.parse(await textOf(request))
  } catch (error) {
    throw error instanceof QuestionError ? error : new QuestionError({ code: 'not-json' })
  }
  const list = isObject(body) ? body.requests : undefined
  if (!Array.isArray(list) || !list.every(isObject)) throw new QuestionError({ code: 'not-json' })
  if (list.length > MOST_IN_BATCH) throw new QuestionError({ code: 'too-long' })
  return list.map(one => innerOf(one, request, root))
}

function innerOf(given: Readonly<Record<string, unknown>>, outer: Request, root: string): Inner {
  const { id, method, url, headers = {}, body } = given
  if (given.atomicityGroup !== undefined || given.dependsOn !== undefined || given.if !== undefined)
    throw new QuestionError({ code: 'not-offered', what: 'A group of requests that depend on one another' })
  const name = typeof method === 'string' ? method.toUpperCase() : ''
  if (typeof id !== 'string' || typeof url !== 'string' || !METHODS.includes(name) || !isObject(headers))
    throw new QuestionError({ code: 'not-json' })
  const all = new Headers(outer.headers)
  for (const own of OWN_HEADERS) all.delete(own)
  for (const [header, value] of Object.entries(headers))
    if (INNER_HEADERS.includes(header.toLowerCase())) setHeader(all, header, value)
  const hasBody = body !== undefined && name !== 'GET'
  return {
    id,
    request: new Request(addressOf(url, outer, root).href, {
      method: name,
      headers: all,
      signal: outer.signal,
      ...(hasBody ? { body: typeof body === 'string' ? body : JSON.stringify(body) } : {}),
    }),
  }
}

/** Within the service alone, whichever way it is written. */
function addressOf(url: string, outer: Request, root: string): URL {
  const wrong = new QuestionError({ code: 'no-such-table', name: url.slice(0, 100) })
  const base = new URL(`${root.replace(/\/+$/, '')}/`, outer.url)
  if (!URL.canParse(url, base.href)) throw wrong
  const address = new URL(url, base)
  if (address.origin !== base.origin || !address.pathname.startsWith(base.pathname)) throw wrong
  const route = routeOf(address, root)
  // A batch in a batch has no end, nor has a stream of events.
  if (route[0] === BATCH || route.at(-1) === EVENTS)
    throw new QuestionError({ code: 'not-offered', what: 'This within a batch' })
  return address
}

function setHeader(headers: Headers, name: string, value: unknown): void {
  try {
    headers.set(name, String(value))
  } catch {
    throw new QuestionError({ code: 'not-json' })
  }
}

async function written(id: string, response: Response): Promise<string> {
  const body = await response.text()
  const headers = Object.fromEntries(response.headers)
  const isJson = headers['content-type']?.startsWith('application/json') ?? false
  const told = body === '' ? '' : `,"body":${isJson ? body : JSON.stringify(body)}`
  return `{"id":${JSON.stringify(id)},"status":${response.status},"headers":${JSON.stringify(headers)}${told}}`
}

const isObject = (given: unknown): given is Readonly<Record<string, unknown>> =>
  typeof given === 'object' && given !== null && !Array.isArray(given)
