import { typeName } from '../code/code-text'
import { importsCode, givenOptions } from '../code/imports-code'
import { wants } from '../code/handlers-code'
import { rowsAre } from '../code/rows-code'
import type { HandedGrid } from '../handed-grid'
import { projectFiles } from '../project/project-files'
import type { Host } from './host'

const PACKAGES = ['engine', 'grid', 'react']

/** The grid as a component of React, in a project of its own. */
export const react: Host = {
  packages: PACKAGES,
  rowsFolder: 'public/',
  files: grid => {
    const name = typeName(grid.title)
    return projectFiles(grid, {
      host: 'react',
      packages: PACKAGES,
      script: 'main.tsx',
      files: [
        { path: `src/${name}.tsx`, text: componentCode(grid, name) },
        { path: 'src/main.tsx', text: mainCode(name) },
      ],
      plugin: { package: '@vitejs/plugin-react', name: 'react', isDefault: true },
      dependencies: ['react', 'react-dom'],
      devDependencies: ['@types/react', '@types/react-dom'],
      compilerOptions: { jsx: 'react-jsx' },
    })
  },
}

function componentCode(grid: HandedGrid, name: string): string {
  const are = rowsAre(grid)
  const isFetched = are === 'fetched'
  const given = [
    ...givenOptions(grid).map(([option, code]) =>
      code.startsWith("'") ? `${option}="${code.slice(1, -1)}"` : `${option}={${code}}`,
    ),
    isFetched ? 'source={source}' : `${are}={${are}}`,
    ...(wants(grid).selects ? ['onSelection={onSelection}'] : []),
  ]
  const line = `<VastMeadow<Row> ${given.join(' ')} />`
  const element =
    line.length <= 90 ? line : `(\n    <VastMeadow<Row>\n      ${given.join('\n      ')}\n    />\n  )`
  return `${isFetched ? "import type { SourceInput } from '@vast-meadow/grid'\n" : ''}import { VastMeadow } from '@vast-meadow/react${are === 'rows' ? '/first' : ''}'
${isFetched ? "import { useEffect, useState } from 'react'\n" : ''}${importsCode(grid)}

/** It is as high as the element around it. */
export function ${name}() {
${isFetched ? FETCHED : ''}  return ${element}
}
`
}

const FETCHED = `  const [source, setSource] = useState<SourceInput>()
  const [problem, setProblem] = useState('')
  useEffect(() => {
    fetchRows().then(setSource, error => setProblem(String(error)))
  }, [])

  if (problem) return <p role="alert">{problem}</p>
`

const mainCode = (name: string): string => `import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { ${name} } from './${name}'

const place = document.querySelector('#app')
if (!place) throw new Error('There is no place for the grid')

createRoot(place).render(
  <StrictMode>
    <${name} />
  </StrictMode>,
)
`
