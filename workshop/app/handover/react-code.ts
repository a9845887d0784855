import { partsCode } from './parts-code'
import {
  answerCode,
  arrangementsStore,
  fileSource,
  keepsArrangements,
  optionsCode,
  rowsName,
  type HandedGrid,
} from './handed-grid'

/** The grid as a component of React in TypeScript, with one column's cells left to a function to show how. */
export function reactCode(grid: HandedGrid): string {
  const { origin, definition, title } = grid
  const fromFile = origin.kind === 'file'
  const keeps = keepsArrangements(grid)
  const parts = partsCode(grid, 'typescript')
  const drawn = definition.columns.at(0)?.key
  const given = [
    '{...options}',
    ...(fromFile ? ['source={source}'] : []),
    ...(keeps ? ['storage={storage}'] : []),
    ...(parts ? ['parts={parts}'] : []),
    ...(drawn === undefined ? [] : ['cells={cells}']),
    'style={{ height: 600 }}',
    "onSelection={({ count }) => console.log(count, 'rows are selected')}",
  ]
  const element = `<VastMeadow\n      ${given.join('\n      ')}\n    />`
  return `${fromFile ? "import { useEffect, useState } from 'react'\n" : ''}${keeps ? "import { localArrangements } from '@vast-meadow/grid'\n" : ''}import { VastMeadow, type VastMeadowProps } from '@vast-meadow/react'

const options: VastMeadowProps = ${optionsCode(grid)}
${keeps ? `const storage = ${arrangementsStore(grid)}\n` : ''}${parts ? `const parts: VastMeadowProps['parts'] = ${parts}\n` : ''}${drawn === undefined ? '' : `const cells: VastMeadowProps['cells'] = { ${JSON.stringify(drawn)}: ({ text }) => text }\n`}
export function ${componentName(title)}() {
${fromFile ? rowsCode(rowsName(origin), fileSource(origin, 'await answer.blob()')) : ''}  return ${fromFile ? 'source && ' : ''}(
    ${element}
  )
}
`
}

/** Rows that are fetched, and a file that is not there told of. */
const rowsCode = (
  name: string,
  source: string,
): string => `  const [source, setSource] = useState<VastMeadowProps['source']>()
  useEffect(() => {
    const read = async () => {
${answerCode(`./${name}`, '      ')}      setSource(${source})
    }
    read().catch(console.error)
  }, [])
`

/** The title as a component is called. */
function componentName(title: string): string {
  const words = title.match(/[A-Za-z0-9]+/g) ?? []
  const name = words.map(word => word[0].toUpperCase() + word.slice(1)).join('')
  return /^[A-Z]/.test(name) ? name : `Grid${name}`
}
