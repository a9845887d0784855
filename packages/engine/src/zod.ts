import { config } from 'zod/mini'
import english from 'zod/v4/locales/en.js'

// Pages may forbid compiled code; zod then must not even probe for it. Its small form has no words of its own, and all of
// its languages would come along with a name from the whole. Imported wherever schemas are made.
config({ jitless: true, ...english() })
