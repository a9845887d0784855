import type { parseExpression } from './parser.ts'
import type { compilePattern } from './pattern.ts'

/** What expressions need beyond the engine itself; each is loaded when first asked for. */
export interface ExpressionTools {
  readonly parser: () => Promise<{ readonly parseExpression: typeof parseExpression }>
  readonly pattern: () => Promise<{ readonly compilePattern: typeof compilePattern }>
}

/** The parser and the patterns that ship beside the engine: bundlers and browsers find them as files of their own. */
export const packagedTools: ExpressionTools = {
  parser: () => import('./parser.ts'),
  pattern: () => import('./pattern.ts'),
}
