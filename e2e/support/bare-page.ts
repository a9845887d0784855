import { createServer, type Server } from 'node:http'
import { createReadStream, existsSync } from 'node:fs'
import { extname, join, normalize } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Page } from '@playwright/test'

const TYPES: Record<string, string> = {
  '.html': 'text/html',
  '.js': 'text/javascript',
  '.json': 'application/json',
  '.csv': 'text/csv',
  '.css': 'text/css',
  '.svg': 'image/svg+xml',
}
const DIST = fileURLToPath(new URL('../../packages/grid/dist', import.meta.url))
/** The stand-alone grid; it loads nothing else. */
const SCRIPTS = new Set(['/standalone.js'])

const PAGE = `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>bare</title><link rel="icon" href="data:,">
<style>html,body{height:100%;margin:0}#grid{height:100%}</style><div id="grid"></div>
<script type="module">import * as meadow from '/standalone.js'; window.meadow = meadow; window.loaded = true</script>`

export interface Served {
  readonly url: string
  close(): void
}

/** Serves a folder, or the bare page with the stand-alone grid; without any headers but those given. */
export async function serveStatic(
  folder: string | null = null,
  headers: Readonly<Record<string, string>> = {},
): Promise<Served> {
  const server: Server = createServer((request, response) => {
    const path = normalize(new URL(request.url ?? '/', 'http://localhost').pathname)
    const file = folder
      ? join(folder, path === '/' ? 'index.html' : path)
      : SCRIPTS.has(path)
        ? join(DIST, path)
        : ''
    if (!folder && path === '/') {
      response.writeHead(200, { 'content-type': 'text/html' })
      response.end(PAGE)
    } else if (file && existsSync(file)) {
      response.writeHead(200, {
        'content-type': TYPES[extname(file)] ?? 'application/octet-stream',
        ...headers,
      })
      createReadStream(file).pipe(response)
    } else {
      response.writeHead(404)
      response.end()
    }
  })
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve))
  const address = server.address()
  const port = typeof address === 'object' && address ? address.port : 0
  return { url: `http://localhost:${port}`, close: () => server.close() }
}

/**
 * Mounts a grid in the bare page; `options` are those of `mountMeadow`, as JSON. The handle is `window.handle`. `savesBy`:
 * the function of the page that is asked to save, if it is there by then; `choosesBy`: that and the name among its choices; `keptAs`: the name by which the
 * browser keeps unsaved changes.
 */
export async function mountBare(page: Page, url: string, options: object): Promise<void> {
  await page.goto(url)
  await page.waitForFunction(() => (window as unknown as { loaded?: boolean }).loaded)
  await page.evaluate(async given => {
    const scope = window as unknown as {
      meadow: {
        mountMeadow(host: Element, options: object): { ready: Promise<void> }
        localChanges(name: string): unknown
      }
      handle: { ready: Promise<void> }
    }
    const { savesBy, choosesBy, keptAs, ...options } = given as Partial<
      Record<'savesBy' | 'choosesBy' | 'keptAs', string>
    >
    const page = window as unknown as Record<string, ((list: unknown) => unknown) | undefined>
    const chosen = choosesBy === undefined ? {} : { choices: { [choosesBy]: page[choosesBy] } }
    const saved = savesBy === undefined ? {} : { save: (list: unknown) => page[savesBy]?.(list) }
    const parts = {
      parts: { ...saved, ...chosen },
      ...(keptAs !== undefined && { unsaved: scope.meadow.localChanges(keptAs) }),
    }
    scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, { ...options, ...parts })
    await scope.handle.ready
  }, options)
}

export const numberColumns = (count: number): object[] =>
  Array.from({ length: count }, (_, i) => ({ key: `n${i}`, kind: 'number', from: 0, to: 1000, decimals: 1 }))
