import { plainName, typeName } from '../code/code-text'
import { importsCode, givenOptions, membersCode } from '../code/imports-code'
import { definitionCode } from '../code/definition-code'
import { handlersCode, wants } from '../code/handlers-code'
import { rowCode } from '../code/row-code'
import { rowsAre, rowsCode } from '../code/rows-code'
import { scenesFiles } from '../code/scenes-code'
import { testCode } from '../code/test-code'
import type { HandedGrid } from '../handed-grid'
import { packageJson } from '../project/package-json'
import { pageOf, pageStyles } from '../project/page-of'
import { readme } from '../project/readme'
import type { Host } from './host'

const PACKAGES = ['engine', 'grid']

/** The grid as a component of Angular, in a project of its own. */
export const angular: Host = {
  packages: PACKAGES,
  rowsFolder: 'public/',
  files: grid => {
    const name = plainName(grid.title)
    const folder = `src/app/${name}`
    const element = `app-${name}`
    return [
      { path: `${folder}/${name}.ts`, text: componentCode(grid) },
      { path: `${folder}/definition.ts`, text: definitionCode(grid) },
      ...(wants(grid).names.length > 0 ? [{ path: `${folder}/handlers.ts`, text: handlersCode(grid) }] : []),
      { path: `${folder}/rows.ts`, text: rowsCode(grid) },
      { path: `${folder}/row.ts`, text: rowCode(grid) },
      { path: `${folder}/grid.test.ts`, text: testCode(grid) },
      ...scenesFiles(grid, folder),
      { path: 'README.md', text: readme(grid, 'angular') },
      { path: 'src/main.ts', text: mainCode(grid) },
      { path: 'src/index.html', text: pageOf(grid, `<${element}></${element}>`, BASE) },
      { path: 'src/page.css', text: pageStyles(element) },
      { path: 'package.json', text: packageOf(grid) },
      { path: 'angular.json', text: workspaceOf(name) },
      { path: 'tsconfig.json', text: TSCONFIG },
    ]
  },
}

const BASE = '<base href="./" />'

const mainCode = ({
  title,
}: HandedGrid): string => `import { provideZonelessChangeDetection } from '@angular/core'
import { bootstrapApplication } from '@angular/platform-browser'
import { ${typeName(title)} } from './app/${plainName(title)}/${plainName(title)}'

bootstrapApplication(${typeName(title)}, { providers: [provideZonelessChangeDetection()] }).catch(console.error)
`

const packageOf = (grid: HandedGrid): string =>
  packageJson(grid, {
    packages: PACKAGES,
    dependencies: ['@angular/common', '@angular/core', '@angular/platform-browser', 'rxjs', 'tslib'],
    devDependencies: ['@angular/build', '@angular/cli', '@angular/compiler', '@angular/compiler-cli'],
    scripts: { dev: 'ng serve', build: 'ng build', test: 'vitest run' },
  })

function workspaceOf(name: string): string {
  const build = {
    builder: '@angular/build:application',
    options: {
      browser: 'src/main.ts',
      index: 'src/index.html',
      tsConfig: 'tsconfig.json',
      styles: ['src/page.css'],
      assets: [{ glob: '**/*', input: 'public' }],
      outputPath: { base: 'dist', browser: '' },
    },
  }
  const serve = { builder: '@angular/build:dev-server', options: { buildTarget: `${name}:build` } }
  const project = { projectType: 'application', root: '', sourceRoot: 'src', architect: { build, serve } }
  return `${JSON.stringify({ version: 1, projects: { [name]: project } }, null, 2)}\n`
}

const TSCONFIG = `${JSON.stringify(
  {
    compilerOptions: {
      strict: true,
      skipLibCheck: true,
      target: 'es2022',
      module: 'preserve',
      moduleResolution: 'bundler',
      lib: ['es2023', 'dom', 'dom.iterable'],
      types: [],
      experimentalDecorators: true,
      importHelpers: true,
    },
    angularCompilerOptions: { strictTemplates: true },
    files: ['src/main.ts'],
  },
  null,
  2,
)}\n`

function componentCode(grid: HandedGrid): string {
  const are = rowsAre(grid)
  const isFetched = are === 'fetched'
  const given = isFetched ? givenOptions(grid) : [...givenOptions(grid), [are, are] as const]
  return `import { afterNextRender, Component, DestroyRef, ElementRef, inject${isFetched ? ', signal' : ''} } from '@angular/core'
import { mountMeadow } from '@vast-meadow/grid'
${importsCode(grid)}

@Component({
  selector: 'app-${plainName(grid.title)}',
  template: \`${isFetched ? '<p role="alert">{{ problem() }}</p>' : ''}<div class="place"></div>\`,
  // It is as high as the element around it.
  styles: ':host, .place { display: block; block-size: 100% } p:empty { display: none }',
})
export class ${typeName(grid.title)} {
${isFetched ? "  protected readonly problem = signal('')\n\n" : ''}  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef)
    const destroyed = inject(DestroyRef)
    afterNextRender(() => {
      const place = host.nativeElement.querySelector<HTMLElement>('.place')
      if (!place) return
      const grid = mountMeadow<Row>(place, { ${membersCode(given)} })
      destroyed.onDestroy(() => grid.unmount())
${wants(grid).selects ? "      grid.on('selection', onSelection)\n" : ''}${isFetched ? FETCHED : ''}    })
  }
}
`
}

const FETCHED = `      fetchRows()
        .then(rows => grid.setRows(rows))
        .catch((error: unknown) => this.problem.set(String(error)))
`
