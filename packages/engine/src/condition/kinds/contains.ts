import * as z from 'zod'
import '../../zod.ts'
import { fold } from '../../search/fold.ts'
import { conditionKind } from './kind.ts'

export const contains = conditionKind({
  name: 'contains',
  schema: z.object({ kind: z.literal('contains'), text: z.string().min(1) }),
  types: ['text'],
  ask: part => {
    const wanted = fold(part.text)
    return { by: 'text', test: text => text.includes(wanted), holds: wanted }
  },
  phrase: part => `contains “${part.text}”`,
})
