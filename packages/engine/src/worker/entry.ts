/** The module worker that the engine ships: start it, and it answers. */
import { serveEngine } from './serve.ts'

serveEngine()
