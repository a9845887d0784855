import type { parseExpression } from './parser.ts'
import type { compilePattern } from './pattern.ts'

/** What expressions need beyond the engine itself; each is loaded when first asked for. */
export interface ExpressionTools {
  readonly parser: () => Promise<{ readonly parseExpression: typeof parseExpression }>
  readonly pattern: () => Promise<{ readonly compilePattern: typeof compilePattern }>
}

// As with the decoders of files: the addresses are written so that bundlers leave the files where they stand. In the
// stand-alone file's worker there is no address to start from but the one it is told; another is then not asked for.
const load = async (name: string, beside: () => string): Promise<unknown> => {
  const base = (globalThis as { __MEADOW_BASE__?: string }).__MEADOW_BASE__
  const url = base ? new URL(`./${name}.js`, base).href : beside()
  return (await import(/* @vite-ignore */ /* webpackIgnore: true */ url)) as unknown
}

/** The parser and the patterns that ship beside the engine. */
export const packagedTools: ExpressionTools = {
  parser: () =>
    load('parser', () => new URL('./parser.js', import.meta.url).href) as ReturnType<
      ExpressionTools['parser']
    >,
  pattern: () =>
    load('pattern', () => new URL('./pattern.js', import.meta.url).href) as ReturnType<
      ExpressionTools['pattern']
    >,
}
