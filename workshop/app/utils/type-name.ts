import type { FieldType } from '@vast-meadow/engine'
import { words } from '~/words'

/** What a type of values is called. */
export const typeName = (type: FieldType): string => words.fieldTypes[type]
