import * as z from 'zod'
import '../../zod.ts'
import { fold } from '../../search/fold.ts'
import { conditionKind } from './kind.ts'

export const starts = conditionKind({
  name: 'starts',
  schema: z.object({ kind: z.literal('starts'), text: z.string().min(1) }),
  types: ['text'],
  ask: part => {
    const wanted = fold(part.text)
    return { by: 'text', test: text => text.startsWith(wanted), holds: wanted }
  },
  phrase: part => `starts with “${part.text}”`,
})
