import { afterEach, expect, it, vi } from 'vitest'
import { mountMeadow, type MeadowHandle } from '../../src/index.ts'

interface Tree {
  readonly id: number
  readonly name: string
  readonly height: number
}
const ROWS: readonly Tree[] = Array.from({ length: 300 }, (_, id) => ({
  id,
  name: `tree ${id}`,
  height: (id * 7) % 50,
}))

/** What a host's own tests do with a grid, whatever simulates the DOM. */
export function inSimulatedDom(): void {
  let grid: MeadowHandle<Tree> | null = null
  let host: HTMLElement
  const mounted = async (rows: readonly Tree[] = ROWS): Promise<MeadowHandle<Tree>> => {
    host = document.createElement('div')
    document.body.append(host)
    grid = mountMeadow<Tree>(host, {
      rows,
      definition: {
        format: 'vast-meadow-grid',
        version: 3,
        title: 'Trees',
        key: 'id',
        columns: [
          { key: 'id', title: 'Number' },
          { key: 'name', title: 'Tree' },
          { key: 'height', title: 'Height' },
        ],
      },
    })
    await grid.ready
    return grid
  }
  const all = (selector: string): HTMLElement[] => [
    ...(host.shadowRoot?.querySelectorAll<HTMLElement>(selector) ?? []),
  ]
  const texts = (column: number): (string | null)[] =>
    all(`[role=gridcell][aria-colindex="${column}"]`)
      .filter(cell => cell.closest('[hidden]') === null)
      .map(cell => cell.textContent)
  const press = (element: Element | undefined): void => {
    if (!element) throw new Error('there is nothing to press')
    const { PointerEvent: Pointer = MouseEvent } = globalThis as Partial<typeof globalThis>
    for (const type of ['pointerdown', 'pointerup', 'click'])
      element.dispatchEvent(new Pointer(type, { bubbles: true, composed: true, cancelable: true }))
  }
  afterEach(() => {
    grid?.unmount()
    expect(host.shadowRoot?.querySelectorAll('[role=row]').length ?? 0).toBe(0)
    host.remove()
  })

  it('shows a window of the rows, found by roles and names', async () => {
    await mounted()
    const headings = all('[role=columnheader]').map(one => one.getAttribute('aria-label') ?? one.textContent)
    expect(headings).toContain('Tree')
    // A window of them, not all.
    expect(texts(3).length).toBeGreaterThan(10)
    expect(texts(3).length).toBeLessThan(80)
    expect(texts(3).slice(0, 3)).toEqual(['tree 0', 'tree 1', 'tree 2'])
    expect(all('[role=grid]')[0].getAttribute('aria-rowcount')).toBe('301')
  })

  it('orders by a press on a heading, and tells of it', async () => {
    const { on } = await mounted()
    let told = 0
    on('flow', () => told++)
    const heading = all('[role=columnheader]').find(one => one.textContent?.includes('Height'))
    press(heading)
    await vi.waitFor(() => expect(texts(4).slice(0, 3)).toEqual(['0', '0', '0']))
    expect(told).toBeGreaterThan(0)
    expect(heading?.getAttribute('aria-sort')).toBe('ascending')
  })

  it('searches, narrows, selects and takes other rows from code', async () => {
    const { arrange, selectRows, setRows } = await mounted()
    arrange({ search: '"tree 29"' })
    await vi.waitFor(() =>
      expect(texts(3)).toEqual(['tree 29', ...Array.from({ length: 10 }, (_, i) => `tree 29${i}`)]),
    )
    arrange({ search: '', conditions: { height: { parts: [{ kind: 'at-least', value: 49 }] } } })
    await vi.waitFor(() =>
      expect(texts(3)).toEqual(['tree 7', 'tree 57', 'tree 107', 'tree 157', 'tree 207', 'tree 257']),
    )
    await selectRows([7])
    await vi.waitFor(() => expect(all('[role=row][aria-selected=true]').length).toBe(1))
    arrange({ conditions: {} })
    await setRows([{ id: 1, name: 'the only one', height: 3 }])
    await vi.waitFor(() => expect(texts(3)).toEqual(['the only one']))
  })

  it('runs in the page where there is no worker', async () => {
    const warned = vi.spyOn(console, 'warn').mockImplementation(() => {})
    const { description } = await mounted(Array.from({ length: 6000 }, (_, id) => ({ ...ROWS[0], id })))
    expect(description?.where).toBe('this page')
    warned.mockRestore()
  })
}
