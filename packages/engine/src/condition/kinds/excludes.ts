import * as z from 'zod'
import '../../zod.ts'
import { fold } from '../../search/fold.ts'
import { conditionKind } from './kind.ts'

export const excludes = conditionKind({
  name: 'excludes',
  schema: z.object({ kind: z.literal('excludes'), text: z.string().min(1) }),
  types: ['text'],
  ask: part => {
    const unwanted = fold(part.text)
    return { by: 'text', test: text => !text.includes(unwanted) }
  },
  phrase: part => `does not contain “${part.text}”`,
})
