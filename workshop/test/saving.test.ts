import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import type { OpenGridState } from '~/open-grid/state'
import { savingOf } from '~/open-grid/saving'
import type { SavedGrid } from '~/storage/saved-grid'

const stored: SavedGrid[] = []
let picture: (made: null) => void = () => {}

vi.mock('~/storage/database', () => ({
  keepGrid: async (grid: SavedGrid) => void stored.push(grid),
  keepFile: async () => {},
  storageProblem: String,
}))
vi.mock('~/storage/grid-picture', () => ({
  pictureOf: () => new Promise(resolve => (picture = resolve)),
}))
vi.mock('~/stores/shelf', () => ({ heldFile: () => undefined }))

const boxed = <T>(value: T): { value: T } => ({ value })

/** As much of an open grid's state as saving asks for. */
const openState = () => ({
  saved: boxed<Partial<SavedGrid> | null>({ id: 'a', title: 'First' }),
  handle: boxed({}),
  start: boxed({ columns: [] }),
  built: boxed({ order: [] as unknown[] }),
  readers: boxed(null),
  report: boxed({ total: 3 }),
  ownFields: boxed([]),
  mode: boxed('build'),
  saving: boxed('saved'),
  saveProblem: boxed(''),
})

beforeEach(() => {
  vi.useFakeTimers()
  vi.stubGlobal('window', globalThis)
  stored.length = 0
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

test('what is changed while the picture is made is neither undone nor left out', async () => {
  const state = openState()
  const saver = savingOf(state as unknown as OpenGridState)
  saver.saveLater()
  await vi.advanceTimersByTimeAsync(500)
  expect(stored).toEqual([])
  state.saved.value = { ...state.saved.value, title: 'Second' }
  state.built.value = { order: [{ column: 'x' }] }
  picture(null)
  await vi.advanceTimersByTimeAsync(0)
  expect(state.saved.value).toMatchObject({ title: 'Second' })
  expect(stored).toMatchObject([{ title: 'Second', arrangement: { order: [{ column: 'x' }] }, rows: 3 }])
})

test('what is pending as the page is left is written at once, without waiting for a picture', async () => {
  const state = openState()
  const saver = savingOf(state as unknown as OpenGridState)
  saver.retitle('Second')
  saver.saveNow()
  state.saved.value = null
  await vi.advanceTimersByTimeAsync(1000)
  expect(stored).toMatchObject([{ title: 'Second' }])
})

test('the grid that was left while its picture was made is kept, and not put in place of the one that is open', async () => {
  const state = openState()
  const saver = savingOf(state as unknown as OpenGridState)
  saver.retitle('Second')
  await vi.advanceTimersByTimeAsync(500)
  state.saved.value = { id: 'b', title: 'Other' }
  picture(null)
  await vi.advanceTimersByTimeAsync(0)
  expect(state.saved.value).toEqual({ id: 'b', title: 'Other' })
  expect(stored).toMatchObject([{ id: 'a', title: 'Second' }])
})
