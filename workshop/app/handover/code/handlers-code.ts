import { keepsArrangements, type HandedGrid } from '../handed-grid'
import { textCode } from './code-text'
import { fileName } from '../download'
import { partsCode } from './parts-code'

/** The functions that the grid calls, to be filled in; and the place where readers' arrangements are kept. */
export function handlersCode(grid: HandedGrid): string {
  const { hasParts, selects, keeps } = wants(grid)
  const types = [...(hasParts ? ['Parts'] : []), ...(selects ? ['SelectionChange'] : [])]
  const imported = keeps
    ? `import { ${['localArrangements', ...types.map(name => `type ${name}`)].join(', ')} }`
    : `import type { ${types.join(', ')} }`
  return [
    `${imported} from '@vast-meadow/grid'\n`,
    hasParts ? "import type { Row } from './row'\n" : '',
    hasParts
      ? `\n/** What the definition names. */\nexport const parts: Parts<Row> = ${partsCode(grid, 'typescript')}\n`
      : '',
    selects ? SELECTED : '',
    keeps
      ? `\n/** Where readers' arrangements are kept. */\nexport const storage = localArrangements(${textCode(fileName(grid.title))})\n`
      : '',
  ].join('')
}

const SELECTED = `
/** Rows were selected, or are not any more. */
export function onSelection({ count }: SelectionChange): void {
  console.log(count, 'rows are selected')
}
`

/** What of the handlers there is. */
export function wants(grid: HandedGrid): {
  readonly hasParts: boolean
  readonly selects: boolean
  readonly keeps: boolean
  /** The names that other files import. */
  readonly names: readonly string[]
} {
  const hasParts = partsCode(grid, 'typescript') !== ''
  const selects = grid.definition.selection.rows !== 'none'
  const keeps = keepsArrangements(grid)
  const names = [
    ...(selects ? ['onSelection'] : []),
    ...(hasParts ? ['parts'] : []),
    ...(keeps ? ['storage'] : []),
  ]
  return { hasParts, selects, keeps, names }
}
