import { fileName } from '../download'
import type { HandedGrid } from '../handed-grid'
import { leanDefinition } from '../lean-definition'
import type { Host } from './host'

/** The definition alone, as JSON. */
export const definition: Host = {
  packages: [],
  rowsFolder: '',
  files: grid => [{ path: `${fileName(grid.title)}.grid.json`, text: definitionJson(grid) }],
}

/** It is called as the grid is, where it has no title of its own. */
const definitionJson = ({ definition, title }: HandedGrid): string =>
  `${JSON.stringify(leanDefinition({ ...definition, title: definition.title || title }), null, 2)}\n`
