import { directionOf } from '~/words/grid-languages'
import type { HandedGrid } from '../handed-grid'
import { escaped } from './escaped'

/** Its styles, in a file of their own: many sites allow none within a page. `filled`: the element that fills it. */
export const pageStyles = (filled: string): string => `:root {
  color-scheme: light dark;
  font-family: system-ui, sans-serif;
}
html, body, ${filled} {
  block-size: 100%;
  margin: 0;
}
`

/** A page around an element. */
export const pageOf = (
  { title, definition: { locale } }: Pick<HandedGrid, 'title' | 'definition'>,
  body: string,
  head: string,
): string => `<!doctype html>
<html lang="${escaped(locale ?? 'en')}"${directionOf(locale) === 'rtl' ? ' dir="rtl"' : ''}>
  <head>
    <meta charset="utf-8" />
    <meta name="viewport" content="width=device-width, initial-scale=1" />
    <title>${escaped(title)}</title>
    <link rel="icon" href="data:," />
    ${head}
  </head>
  <body>
    ${body}
  </body>
</html>
`
