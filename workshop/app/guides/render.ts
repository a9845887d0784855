import MarkdownIt from 'markdown-it'
import { escaped } from '~/handover/project/escaped'
import { colouredLines } from '~/handover/code-colours'
import { anchorOf } from './sections'

export interface RenderedGuide {
  readonly html: string
  /** What stands on the page, to be gone to. */
  readonly headings: readonly { readonly anchor: string; readonly text: string }[]
}

const markdown = new MarkdownIt({ html: false, linkify: false })

/** A guide as HTML: headings that can be gone to, links between guides, code in colours. */
export async function renderGuide(text: string): Promise<RenderedGuide> {
  // Remarks for whoever writes the guides are none for readers.
  const tokens = markdown.parse(text.replaceAll(/<!--[^]*?-->\n?/g, ''), {})
  const headings: { anchor: string; text: string }[] = []
  for (const [nth, token] of tokens.entries()) {
    if (token.type === 'heading_open') {
      const said = tokens[nth + 1].content
      const anchor = anchorOf(said)
      token.attrSet('id', anchor)
      if (token.tag === 'h2') headings.push({ anchor, text: said.replaceAll('`', '') })
    }
    for (const child of token.children ?? [])
      if (child.type === 'link_open') child.attrSet('href', linkOf(String(child.attrGet('href') ?? '')))
    if (token.type === 'fence') {
      token.type = 'html_block'
      token.content = await codeHtml(token.info, token.content)
    }
  }
  return { html: markdown.renderer.render(tokens, markdown.options, {}), headings }
}

/** Links between guides stay within the workshop. */
const linkOf = (href: string): string => {
  const guide = /^([\w-]+)\.md(#.*)?$/.exec(href)
  return guide ? `/guides/${guide[1]}${guide[2] ?? ''}` : href
}

const codeHtml = async (language: string, code: string): Promise<string> => {
  const lines = await colouredLines(`code.${language || 'txt'}`, code.replace(/\n$/, ''))
  const html = lines.map(runs =>
    runs
      .map(({ text, tone }) => (tone ? `<span class="${tone}">${escaped(text)}</span>` : escaped(text)))
      .join(''),
  )
  return `<pre class="coloured" dir="ltr" tabindex="0"><code>${html.join('\n')}</code></pre>\n`
}
