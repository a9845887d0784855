import type { Answered } from '../engine/engine.ts'
import { QuestionError, type QuestionProblem } from '../language/problem.ts'
import { ARROW_STREAM } from '../tables/answer-formats.ts'
import { problemText, statusOf } from '../words/problem-text.ts'

export const HEADERS = { 'OData-Version': '4.01', 'cache-control': 'no-store' }

export function onlyMethod({ method }: Request, wanted: string): void {
  if (method !== wanted) throw new QuestionError({ code: 'method-not-allowed', method })
}

const MOST_BODY = 1 << 20

export async function textOf(request: Request): Promise<string> {
  if (Number(request.headers.get('content-length') ?? 0) > MOST_BODY)
    throw new QuestionError({ code: 'too-long' })
  const text = await request.text()
  if (text.length > MOST_BODY) throw new QuestionError({ code: 'too-long' })
  return text
}

/** How long the database took, and what it did, for meters of whoever asks. */
export const timing = (started: number, did: string): Record<string, string> => ({
  'server-timing': `db;dur=${(performance.now() - started).toFixed(1)};desc="${did}"`,
})

export const recordOf = (names: readonly string[], row: readonly Answered[]): Record<string, unknown> =>
  Object.fromEntries(names.map((name, i) => [name, sayable(row[i])]))

/** JSON has no infinity; the protocol has words for it. */
function sayable(value: Answered): Answered {
  if (typeof value !== 'number' || Number.isFinite(value)) return value
  return Number.isNaN(value) ? 'NaN' : value > 0 ? 'INF' : '-INF'
}

export const bare = (status: number, headers: Record<string, string> = {}): Response =>
  new Response(null, { status, headers: { ...HEADERS, ...headers } })

export const json = (body: object, headers: Record<string, string> = {}, status = 200): Response =>
  new Response(JSON.stringify(body), {
    status,
    headers: { ...HEADERS, 'content-type': 'application/json;odata.metadata=minimal', ...headers },
  })

/** `next`: where further rows are. */
export const arrowAnswer = (
  stream: Uint8Array<ArrayBuffer>,
  next: string | null,
  headers: Record<string, string>,
): Response =>
  new Response(stream, {
    headers: {
      ...HEADERS,
      'content-type': ARROW_STREAM,
      vary: 'accept',
      ...(next === null ? {} : { link: `<${next}>; rel="next"` }),
      ...headers,
    },
  })

export const problemAnswer = (problem: QuestionProblem): Response => {
  const { code, ...facts } = problem
  const target = 'property' in problem ? { target: problem.property } : {}
  return new Response(
    JSON.stringify({ error: { code, message: problemText(problem), ...target, details: [], facts } }),
    {
      status: statusOf(problem),
      headers: {
        ...HEADERS,
        'content-type': 'application/json',
        ...(code === 'preparing' || code === 'too-busy' ? { 'retry-after': '1' } : {}),
      },
    },
  )
}
