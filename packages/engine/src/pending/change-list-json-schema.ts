import * as z from 'zod/mini'
import { changeListSchema } from './change-list.ts'

/** The JSON Schema of a document of changes; apart from it, because what makes schemas is large. */
export const changeListJsonSchema = (): object => z.toJSONSchema(changeListSchema, { io: 'input' })
