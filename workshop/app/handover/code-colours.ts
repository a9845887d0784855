import type { Parser } from '@lezer/common'

/** A run of letters that is shown alike; `tone` is a class of the highlighter, or empty. */
export interface ColouredRun {
  readonly text: string
  readonly tone: string
}

/** The lines of a text as they are. */
export const plainLines = (text: string): ColouredRun[][] =>
  text.split('\n').map(line => [{ text: line, tone: '' }])

/** The lines of a file in runs of one colour each; plain where nobody knows its language. */
export async function colouredLines(path: string, text: string): Promise<ColouredRun[][]> {
  const parser = await parserFor(path)
  const lines: ColouredRun[][] = [[]]
  const put = (run: string, tone: string): void => void lines[lines.length - 1].push({ text: run, tone })
  if (!parser) return plainLines(text)
  const { classHighlighter, highlightCode } = await import('@lezer/highlight')
  highlightCode(text, parser.parse(text), classHighlighter, put, () => void lines.push([]))
  return lines
}

/** What reads a language is loaded when a file of it is looked at. */
async function parserFor(path: string): Promise<Parser | null> {
  switch (/\.(\w+)$/.exec(path)?.[1]) {
    case 'ts':
    case 'tsx':
    case 'js':
      return (await import('@codemirror/lang-javascript')).tsxLanguage.parser
    case 'json':
      return (await import('@codemirror/lang-json')).jsonLanguage.parser
    case 'html':
    case 'vue':
    case 'svelte':
      return (await import('@codemirror/lang-html')).htmlLanguage.parser
    default:
      return null
  }
}
