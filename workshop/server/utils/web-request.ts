import type { H3Event } from 'h3'

/** Answers with a handler of the web's standard shape. Its request ends when whoever asked has left. */
export async function answerWith(
  event: H3Event,
  handler: (request: Request) => Promise<Response>,
): Promise<Response> {
  const { req, res } = event.node
  const left = new AbortController()
  res.on('close', () => {
    if (!res.writableFinished) left.abort()
  })
  const method = req.method ?? 'GET'
  const body = method === 'GET' || method === 'HEAD' ? undefined : ((await readRawBody(event)) ?? '')
  return await handler(
    new Request(getRequestURL(event), {
      method,
      headers: getRequestHeaders(event) as HeadersInit,
      body,
      signal: left.signal,
    }),
  )
}
