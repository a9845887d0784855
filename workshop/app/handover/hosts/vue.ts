import { typeName } from '../code/code-text'
import { importsCode, givenOptions } from '../code/imports-code'
import { wants } from '../code/handlers-code'
import { rowsAre } from '../code/rows-code'
import type { HandedGrid } from '../handed-grid'
import { projectFiles } from '../project/project-files'
import type { Host } from './host'

const PACKAGES = ['engine', 'grid', 'vue']

/** The grid as a component of Vue, in a project of its own. */
export const vue: Host = {
  packages: PACKAGES,
  rowsFolder: 'public/',
  files: grid => {
    const name = typeName(grid.title)
    return projectFiles(grid, {
      host: 'vue',
      packages: PACKAGES,
      script: 'main.ts',
      files: [
        { path: `src/${name}.vue`, text: componentCode(grid) },
        { path: 'src/main.ts', text: mainCode(name) },
      ],
      plugin: { package: '@vitejs/plugin-vue', name: 'vue', isDefault: true },
      dependencies: ['vue'],
      devDependencies: ['vue-tsc'],
      check: 'vue-tsc --noEmit',
    })
  },
}

function componentCode(grid: HandedGrid): string {
  const are = rowsAre(grid)
  const isFetched = are === 'fetched'
  const given = [
    ...(isFetched ? ['v-else'] : []),
    ...givenOptions(grid).map(([option, code]) =>
      code.startsWith("'") ? `${option}=${code.replaceAll("'", '"')}` : `:${option}="${code}"`,
    ),
    isFetched ? ':source="source"' : `:${are}="${are}"`,
    ...(wants(grid).selects ? ['@selection="onSelection"'] : []),
  ]
  const inner =
    given.join(' ').length <= 70
      ? `<VastMeadow ${given.join(' ')} />`
      : `<VastMeadow\n    ${given.join('\n    ')}\n  />`
  return `<script setup lang="ts">
${isFetched ? "import type { SourceInput } from '@vast-meadow/grid'\n" : ''}import { VastMeadow } from '@vast-meadow/vue${are === 'rows' ? '/first' : ''}'
${isFetched ? "import { onMounted, ref, shallowRef } from 'vue'\n" : ''}${importsCode(grid, { row: false })}
${isFetched ? FETCHED : ''}<\u002fscript>

<template>
${isFetched ? '  <p v-if="problem" role="alert">{{ problem }}</p>\n' : ''}  ${inner}
</template>
`
}

const FETCHED = `
const source = shallowRef<SourceInput>()
const problem = ref('')
onMounted(() =>
  fetchRows().then(
    rows => (source.value = rows),
    error => (problem.value = String(error)),
  ),
)
`

const mainCode = (name: string): string => `import { createApp } from 'vue'
import ${name} from './${name}.vue'

createApp(${name}).mount('#app')
`
