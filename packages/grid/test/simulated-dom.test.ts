// @vitest-environment jsdom
import { describe } from 'vitest'
import { inSimulatedDom } from './support/in-simulated-dom.ts'

describe('a grid in jsdom', inSimulatedDom)
