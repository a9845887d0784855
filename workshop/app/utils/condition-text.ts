import { conditionSummary, shower, type Condition, type Field, type Format } from '@vast-meadow/engine'
import { sentences } from '~/words'

/** A condition in a few words, with values as its column shows them. */
export const conditionText = (condition: Condition, field: Field, format?: Format): string =>
  conditionSummary(condition, field, shower(field, format), { ...sentences.conditions, own: {} })
