import { askHost, RowsError } from '../../utils/fetch-rows'
import { guardOf } from '../../utils/guard'
import { answerWith } from '../../utils/web-request'

/** Headers that a service may say something by. */
const TOLD = ['content-type', 'odata-version', 'server-timing', 'retry-after']
const ASKED = ['accept', 'content-type', 'odata-maxversion', 'prefer']

/** A service at another host: `/api/far/https/data.example.org/odata/…`. The page may only reach its own server. */
export default defineEventHandler(event => answerWith(event, passedOn))

async function passedOn(request: Request): Promise<Response> {
  const { pathname, search } = new URL(request.url)
  const [scheme = '', host = '', ...rest] = pathname.replace(/^\/api\/far\//, '').split('/')
  const method = request.method === 'POST' ? 'POST' : 'GET'
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
        body: method === 'POST' ? await request.text() : undefined,
        signal: request.signal,
      },
    )
    const told = TOLD.flatMap(name => {
      const value = headers[name]
      return typeof value === 'string' ? [[name, value] as [string, string]] : []
    })
    return new Response(new Uint8Array(body), { status, headers: told })
  } catch (error) {
    if (!(error instanceof RowsError)) throw error
    const told = { error: { code: 'not-reached', message: error.message } }
    return Response.json(told, { status: error.status })
  }
}
