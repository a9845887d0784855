const SCHEMES = new Set(['http:', 'https:'])
const IMAGE_SCHEMES = new Set(['http:', 'https:', 'blob:'])
/** Pictures that stand in the data itself. Vector pictures cannot run scripts where they are only shown as pictures. */
const IMAGE_DATA = /^data:image\/(png|jpeg|gif|webp|avif|svg\+xml)[;,]/i

function urlOf(address: string): URL | null {
  try {
    return new URL(address, document.baseURI)
  } catch {
    return null
  }
}

/** The address where a link may lead: the web, or within the site. null: nowhere; the text is then only shown. */
export function linkAddress(address: string): string | null {
  const text = address.trim()
  if (text === '') return null
  const url = urlOf(text)
  return url && SCHEMES.has(url.protocol) ? text : null
}

/** `mailto:` with one address in it, or null. What else mail addresses could carry, such as a body, is left out. */
export function mailAddress(address: string): string | null {
  const text = address.trim().replace(/^mailto:/i, '')
  return /^[^\s@?&:,;<>"]+@[^\s@?&:,;<>"]+$/.test(text)
    ? `mailto:${encodeURIComponent(text).replace('%40', '@')}`
    : null
}

/** The address that a picture may be loaded from, or null. */
export function pictureAddress(address: string): string | null {
  const text = address.trim()
  if (text === '') return null
  if (IMAGE_DATA.test(text)) return text
  const url = urlOf(text)
  return url && IMAGE_SCHEMES.has(url.protocol) ? text : null
}
