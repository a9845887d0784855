import { directionOf } from '~/words/grid-languages'
import type { HandedGrid } from '../handed-grid'
import { escaped } from './escaped'

/** A page that is filled by the element of a selector. */
export const pageOf = (
  { title, definition: { locale } }: Pick<HandedGrid, 'title' | 'definition'>,
  body: string,
  filled: string,
  head = '',
): string => `<!doctype html>
<html lang="${escaped(locale ?? 'en')}"${directionOf(locale) === 'rtl' ? ' dir="rtl"' : ''}>
  <head>
    <meta charset="utf-8" />
    <meta name="viewport" content="width=device-width, initial-scale=1" />
    <title>${escaped(title)}</title>
    <link rel="icon" href="data:," />
    <style>
      :root { color-scheme: light dark; font-family: system-ui, sans-serif; }
      html, body, ${filled} { block-size: 100%; margin: 0; }
    </style>${head}
  </head>
  <body>
    ${body}
  </body>
</html>
`
