import { typeName } from '../code/code-text'
import { importsCode, givenOptions, membersCode } from '../code/imports-code'
import { definitionCode } from '../code/definition-code'
import { handlersCode, wants } from '../code/handlers-code'
import { rowCode } from '../code/row-code'
import { rowsAre, rowsCode } from '../code/rows-code'
import { testCode } from '../code/test-code'
import { fileName } from '../download'
import type { HandedGrid } from '../handed-grid'
import { readme } from '../project/readme'
import type { Host } from './host'

/** The grid as a component of Angular, to be laid into a project that there is. */
export const angular: Host = {
  packages: ['engine', 'grid'],
  rowsFolder: 'public/',
  files: grid => {
    const folder = `src/app/${fileName(grid.title)}`
    return [
      { path: `${folder}/${fileName(grid.title)}.ts`, text: componentCode(grid) },
      { path: `${folder}/definition.ts`, text: definitionCode(grid) },
      ...(wants(grid).names.length > 0 ? [{ path: `${folder}/handlers.ts`, text: handlersCode(grid) }] : []),
      { path: `${folder}/row.ts`, text: rowCode(grid) },
      { path: `${folder}/rows.ts`, text: rowsCode(grid) },
      { path: `${folder}/grid.test.ts`, text: testCode(grid) },
      { path: 'README.md', text: readme(grid, 'angular') },
    ]
  },
}

function componentCode(grid: HandedGrid): string {
  const are = rowsAre(grid)
  const isFetched = are === 'fetched'
  const given = isFetched ? givenOptions(grid) : [...givenOptions(grid), [are, are] as const]
  return `import { afterNextRender, Component, DestroyRef, ElementRef, inject${isFetched ? ', signal' : ''} } from '@angular/core'
import { mountMeadow } from '@vast-meadow/grid'
${importsCode(grid)}

@Component({
  selector: 'app-${fileName(grid.title)}',
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
