// @vitest-environment happy-dom
import { describe } from 'vitest'
import { inSimulatedDom } from './support/in-simulated-dom.ts'

describe('a grid in happy-dom', inSimulatedDom)
