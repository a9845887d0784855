// The engine's worker, for the grids of the bench's pages.
import { serveEngine } from '../../packages/engine/dist/index.js'

serveEngine()
