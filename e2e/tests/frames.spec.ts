import { expect, test, type CDPSession, type Page } from '@playwright/test'
import { ALL } from '../support/all.ts'
import { PNG } from 'pngjs'
import { mountBare, numberColumns, serveStatic, type Served } from '../support/bare-page.ts'

let served: Served
test.beforeAll(async () => {
  served = await serveStatic()
})
test.afterAll(() => served.close())

const HEAD = 33
const BAR = 46
const FOOT = 40

/**
 * A grid whose cells carry their row in red and green and their column in blue, over a layer in a colour that is
 * used nowhere else: any pixel of that colour in the body is blank, and a line whose pinned and middle parts differ
 * in red or green is torn.
 */
async function mountCoded(page: Page): Promise<void> {
  await mountBare(page, served.url, {})
  await page.evaluate(async columns => {
    const style = document.createElement('style')
    style.textContent =
      '#grid::part(view){background:rgb(255,0,255)} #grid{--meadow-rule-soft:transparent;--meadow-rule:transparent;--meadow-cell-padding:0px}'
    document.head.append(style)
    const scope = window as unknown as {
      meadow: { mountMeadow(host: Element, options: object): { ready: Promise<void>; unmount(): void } }
      handle: { ready: Promise<void>; unmount(): void }
    }
    scope.handle.unmount()
    const painter = {
      create: (cell: HTMLElement) => cell,
      update: (cell: HTMLElement, painted: { row: number; column: string }) => {
        const column = Number(painted.column.slice(1))
        cell.style.background = `rgb(${(painted.row % 16) * 15},${(Math.floor(painted.row / 16) % 16) * 15},${(column % 16) * 15})`
      },
    }
    scope.handle = scope.meadow.mountMeadow(document.querySelector('#grid')!, {
      source: { kind: 'computed', recipe: { name: 'x', rows: 1_000_000, columns } },
      definition: {
        format: 'vast-meadow-grid',
        version: 3,
        columns: (columns as { key: string }[]).map(({ key }) => ({
          key,
          title: key,
          width: 100,
          painter: 'coded',
        })),
        start: { pinnedStart: ['n0'] },
      },
      parts: { painters: { coded: painter } },
    })
    await scope.handle.ready
  }, numberColumns(60))
}

interface Frames {
  readonly pictures: PNG[]
  stop(): Promise<void>
}

async function record(cdp: CDPSession): Promise<Frames> {
  const pictures: PNG[] = []
  const data: string[] = []
  cdp.on('Page.screencastFrame', frame => {
    data.push(frame.data)
    // The page may be gone before the last frame is acknowledged.
    cdp.send('Page.screencastFrameAck', { sessionId: frame.sessionId }).catch(() => {})
  })
  await cdp.send('Page.startScreencast', { format: 'png', everyNthFrame: 1 })
  return {
    pictures,
    stop: async () => {
      await cdp.send('Page.stopScreencast')
      for (const text of data) pictures.push(PNG.sync.read(Buffer.from(text, 'base64')))
    },
  }
}

function judge(picture: PNG): { blank: number; torn: number; rows: Set<number> } {
  const at = (x: number, y: number): [number, number, number] => {
    const i = (y * picture.width + x) * 4
    return [picture.data[i]!, picture.data[i + 1]!, picture.data[i + 2]!]
  }
  let blank = 0
  let torn = 0
  const rows = new Set<number>()
  for (let y = BAR + HEAD + 4; y < picture.height - FOOT - 20; y += 3) {
    // 90: inside the pinned column; the others in the middle part.
    const pinned = at(90, y)
    for (const x of [90, 300, 620]) {
      const [r, g, b] = at(x, y)
      if (r > 240 && g < 15 && b > 240) blank++
      else if (Math.abs(r - pinned[0]) > 6 || Math.abs(g - pinned[1]) > 6) torn++
    }
    rows.add(Math.round(pinned[0] / 15) + 16 * Math.round(pinned[1] / 15))
  }
  return { blank, torn, rows }
}

async function busy(page: Page, ms: number): Promise<void> {
  await page.evaluate(ms => {
    const hold = (): void => {
      const until = performance.now() + ms
      while (performance.now() < until);
      setTimeout(hold, 4)
    }
    setTimeout(hold, 0)
  }, ms)
}

for (const held of [0, 30]) {
  test(
    `no blank and no torn frame in a fast scroll and a thumb drag, page held ${held} ms at a time`,
    ALL,
    async ({ page }) => {
      await page.setViewportSize({ width: 800, height: 600 })
      await mountCoded(page)
      const cdp = await page.context().newCDPSession(page)
      if (held > 0) await busy(page, held)
      const frames = await record(cdp)
      await cdp.send('Input.synthesizeScrollGesture', {
        x: 400,
        y: 300,
        yDistance: -9000,
        speed: 12_000,
        gestureSourceType: 'mouse',
      })
      await cdp.send('Input.synthesizeScrollGesture', {
        x: 400,
        y: 300,
        xDistance: -1500,
        speed: 4000,
        gestureSourceType: 'mouse',
      })
      await page.mouse.move(793, 110)
      await page.mouse.down()
      for (let y = 110; y < 420; y += 12) await page.mouse.move(793, y)
      await page.mouse.up()
      await frames.stop()
      expect(frames.pictures.length).toBeGreaterThan(15)
      const judged = frames.pictures.map(judge)
      // The recording saw many places of the table, or it would prove nothing.
      expect(new Set(judged.map(frame => [...frame.rows][0])).size).toBeGreaterThan(5)
      expect(judged.filter(frame => frame.blank > 0).length, 'blank frames').toBe(0)
      expect(judged.filter(frame => frame.torn > 0).length, 'torn frames').toBe(0)
    },
  )
}
