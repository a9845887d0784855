import { gridLanguageOf } from '~/words/grid-languages'
import type { HandedGrid } from '../handed-grid'
import { leanDefinition } from '../lean-definition'
import { codeOf } from './code-text'

/** The definition in a file of its own: only what it must say, and what differs from the defaults. */
export const definitionCode = ({
  definition,
}: HandedGrid): string => `import type { DefinitionInput } from '@vast-meadow/grid'
${languageCode(definition.locale)}
/** What the grid shows, and what readers start with. */
export const definition = ${codeOf(leanDefinition(definition))} satisfies DefinitionInput
`

function languageCode(locale: string | undefined): string {
  const { module } = gridLanguageOf(locale)
  return module === null
    ? ''
    : `// What the grid itself says, in the language of the definition.\nimport '${module}'\n`
}
