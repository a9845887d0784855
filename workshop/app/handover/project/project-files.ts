import { definitionCode } from '../code/definition-code'
import { handlersCode, wants } from '../code/handlers-code'
import { rowCode } from '../code/row-code'
import { rowsCode } from '../code/rows-code'
import { scenesFiles } from '../code/scenes-code'
import { testCode } from '../code/test-code'
import type { HandedGrid } from '../handed-grid'
import { readme } from './readme'
import type { HandedFile, HostName } from '../hand-over'
import { packageJson } from './package-json'
import { pageOf, pageStyles } from './page-of'
import type { Tool } from './versions'

/** What a host adds to a project of Vite and TypeScript. */
export interface ProjectParts {
  readonly host: HostName
  /** Our packages. */
  readonly packages: readonly string[]
  /** The host's own files; the first is what a reader of the code wants to see. */
  readonly files: readonly HandedFile[]
  /** The name of the script in `src` that the page begins with. */
  readonly script: string
  readonly plugin?: { readonly package: Tool; readonly name: string; readonly isDefault: boolean }
  readonly dependencies?: readonly Tool[]
  readonly devDependencies?: readonly Tool[]
  readonly compilerOptions?: object
  /** What checks the types; default: the compiler. */
  readonly check?: string
}

/** A complete project around the files of a host. */
export function projectFiles(grid: HandedGrid, parts: ProjectParts): readonly HandedFile[] {
  const { host, files, script, plugin } = parts
  return [
    ...files,
    { path: 'src/definition.ts', text: definitionCode(grid) },
    ...(wants(grid).names.length > 0 ? [{ path: 'src/handlers.ts', text: handlersCode(grid) }] : []),
    { path: 'src/rows.ts', text: rowsCode(grid) },
    { path: 'src/row.ts', text: rowCode(grid) },
    { path: 'src/grid.test.ts', text: testCode(grid) },
    ...scenesFiles(grid, 'src'),
    { path: 'README.md', text: readme(grid, host) },
    {
      path: 'index.html',
      text: pageOf(
        grid,
        `<div id="app"></div>\n    <script type="module" src="/src/${script}"></script>`,
        '<link rel="stylesheet" href="/src/page.css" />',
      ),
    },
    { path: 'src/page.css', text: pageStyles('#app') },
    { path: 'package.json', text: packageOf(grid, parts) },
    { path: 'tsconfig.json', text: tsconfig(parts) },
    ...(plugin ? [{ path: 'vite.config.ts', text: viteConfig(plugin) }] : []),
  ]
}

function packageOf(grid: HandedGrid, parts: ProjectParts): string {
  const { packages, plugin, dependencies = [], devDependencies = [], check = 'tsc --noEmit' } = parts
  return packageJson(grid, {
    packages,
    dependencies,
    devDependencies: [...(plugin ? [plugin.package] : []), 'vite', ...devDependencies],
    scripts: { dev: 'vite', build: `${check} && vite build`, preview: 'vite preview', test: 'vitest run' },
  })
}

function tsconfig({ compilerOptions = {} }: ProjectParts): string {
  const options = {
    strict: true,
    noEmit: true,
    skipLibCheck: true,
    target: 'es2023',
    module: 'esnext',
    moduleResolution: 'bundler',
    lib: ['es2023', 'dom', 'dom.iterable'],
    verbatimModuleSyntax: true,
    ...compilerOptions,
  }
  return `${JSON.stringify({ compilerOptions: options, include: ['src'] }, null, 2)}\n`
}

const viteConfig = ({
  package: from,
  name,
  isDefault,
}: NonNullable<ProjectParts['plugin']>): string => `import ${isDefault ? name : `{ ${name} }`} from '${from}'
import { defineConfig } from 'vite'

export default defineConfig({ base: './', plugins: [${name}()] })
`
