import type { HandedGrid } from '../handed-grid'
import { leanDefinition } from '../lean-definition'
import { codeOf } from './code-text'

/** The definition in a file of its own: only what it must say, and what differs from the defaults. */
export const definitionCode = ({
  definition,
}: HandedGrid): string => `import type { DefinitionInput } from '@vast-meadow/grid'

/** What the grid shows, and what readers start with. */
export const definition = ${codeOf(leanDefinition(definition))} satisfies DefinitionInput
`
