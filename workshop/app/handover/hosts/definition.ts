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

export const definitionJson = ({ definition }: HandedGrid): string =>
  `${JSON.stringify(leanDefinition(definition), null, 2)}\n`
