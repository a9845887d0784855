// A grid over rows that a service holds, scrolled at an even speed: how many of the lines in view are not there yet.
import { serviceSource } from '../../packages/engine/dist/odata.js'
import { mountMeadow } from '../../packages/grid/dist/index.js'

const pause = ms => new Promise(resolve => setTimeout(resolve, ms))
const frame = () => new Promise(requestAnimationFrame)

let questions = 0
let handle = null
let scroller = null

globalThis.mountServed = async () => {
  const element = document.createElement('div')
  element.style.height = '100%'
  document.body.replaceChildren(element)
  const source = serviceSource({
    address: '/rows',
    rows: 'sightings',
    near: false,
    onAsked: () => questions++,
  })
  handle = mountMeadow(element, { source })
  await handle.ready
  scroller = element.shadowRoot.querySelector('.scroller')
  await pause(1000)
}

/** Scrolls so many CSS px a second from a place on, and looks at each frame at what its lines show. */
globalThis.scrollAt = async (pxPerSecond, seconds, from) => {
  const rows = () => [...scroller.querySelectorAll('.body .row:not([hidden])')]
  scroller.scrollTop = from
  await pause(1500)
  // A jump far into the rows looks its places up first, and is measured by itself.
  while (rows().some(row => row.textContent.trim() === '')) await pause(100)
  const before = questions
  const { top, bottom } = scroller.getBoundingClientRect()
  let seen = 0
  let absent = 0
  let frames = 0
  let last = performance.now()
  const end = last + seconds * 1000
  while (last < end) {
    await frame()
    const now = performance.now()
    for (const row of rows()) {
      const box = row.getBoundingClientRect()
      if (box.bottom <= top || box.top >= bottom) continue
      seen++
      if (row.textContent.trim() === '') absent++
    }
    frames++
    scroller.scrollTop += (pxPerSecond * (now - last)) / 1000
    last = now
  }
  return { seen, absent, frames, questions: questions - before, px: scroller.scrollTop - from }
}
