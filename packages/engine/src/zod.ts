import { z } from 'zod'

// Pages may forbid compiled code; zod then must not even probe for it. Every schema of the engine is made with this z.
z.config({ jitless: true })

export { z }
