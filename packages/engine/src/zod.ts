import { config } from 'zod'

// Pages may forbid compiled code; zod then must not even probe for it. Imported wherever schemas are made.
config({ jitless: true })
