import { askHost, RowsError } from '../../utils/fetch-rows'
import { guardOf } from '../../utils/guard'
import { answerWith } from '../../utils/web-request'

/** Headers that a service may say something by. */
const TOLD = ['content-type', 'odata-version', 'server-timing', 'retry-after', 'etag', 'location', 'link']
const ASKED = ['accept', 'content-type', 'odata-maxversion', 'prefer', 'if-match']
const METHODS = ['GET', 'POST', 'PATCH', 'DELETE'] as const

/** A service at another host: `/api/far/https/data.example.org/odata/…`. The page may only reach its own server. */
export default defineEventHandler(event => answerWith(event, passedOn))

async function passedOn(request: Request): Promise<Response> {
  const { pathname, search } = new URL(request.url)
  const [scheme = '', host = '', ...rest] = pathname.replace(/^\/api\/far\//, '').split('/')
  const method = METHODS.find(one => one === request.method)
  if (!method) return new Response(null, { status: 405 })
  // Another site may have its reader's browser ask, but not change anything.
  if (method !== 'GET' && (request.headers.get('sec-fetch-site') ?? 'same-origin') !== 'same-origin')
    return new Response(null, { status: 403 })
  try {
    const { status, headers, body } = await askHost(
      `${scheme}://${host}/${rest.join('/')}${search}`,
      guardOf(process.env),
      {
        method,
        headers: Object.fromEntries(
          ASKED.flatMap(name => {
            const value = request.headers.get(name)
            return value === null ? [] : [[name, value]]
          }),
        ),
        body: method === 'GET' ? undefined : await request.text(),
        signal: request.signal,
      },
    )
    const told = TOLD.flatMap(name => {
      const value = headers[name]
      return typeof value === 'string' ? [[name, value] as [string, string]] : []
    })
    return new Response(status === 204 ? null : new Uint8Array(body), { status, headers: told })
  } catch (error) {
    if (!(error instanceof RowsError)) throw error
    const told = { error: { code: 'not-reached', message: error.message } }
    return Response.json(told, { status: error.status })
  }
}
