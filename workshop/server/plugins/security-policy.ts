import { createHash, randomBytes } from 'node:crypto'

/** Whoever runs it may want to see what pages without isolation make of grids: most of the pages that they are for. */
const ISOLATION =
  process.env.ISOLATION === 'none'
    ? {}
    : {
        'cross-origin-opener-policy': 'same-origin',
        // Pictures from elsewhere may load without their servers' consent; shared memory needs one of the two policies.
        'cross-origin-embedder-policy': 'credentialless',
      }

/** For every answer, scripts of workers included: they are held to the policies of the page that starts them. */
const HEADERS = { ...ISOLATION, 'x-content-type-options': 'nosniff', 'referrer-policy': 'no-referrer' }

/**
 * The page's security policy. Scripts that the framework writes into the page are allowed by their hash, style
 * elements that the interface adds by a nonce; compiled code is never allowed.
 */
export default defineNitroPlugin(nitro => {
  nitro.hooks.hook('request', event => setResponseHeaders(event, HEADERS))
  nitro.hooks.hook('render:response', response => {
    if (typeof response.body !== 'string') return
    const nonce = randomBytes(16).toString('base64')
    response.body = response.body
      .replace('<head>', `<head><meta property="csp-nonce" nonce="${nonce}">`)
      .replaceAll('<style>', `<style nonce="${nonce}">`)
    response.headers = {
      ...response.headers,
      'content-security-policy': policy(inlineHashes(response.body), nonce),
    }
  })
})

function inlineHashes(html: string): string[] {
  const scripts = html.matchAll(/<script(?![^>]*\ssrc=)[^>]*>([\s\S]*?)<\/script>/g)
  return [...scripts].map(([, text]) => `'sha256-${createHash('sha256').update(text!).digest('base64')}'`)
}

function policy(hashes: readonly string[], nonce: string): string {
  return [
    "default-src 'none'",
    `script-src 'self' ${hashes.join(' ')}`,
    `style-src 'self' 'nonce-${nonce}'`,
    // Blob and data pictures are those that the workshop draws itself; others are of the rows.
    `img-src 'self' data: blob: ${process.env.PICTURE_HOSTS ?? 'https:'}`,
    "font-src 'self' data:",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "manifest-src 'self'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ')
}
