// The floor of rendering: recycled rows and cells, absolutely placed, and nothing else. Same window, same text.

/** `headOf`: of a line that is a head, its text and what stands under columns, else null; `around`: the heads that a line stands in. */
export function mountBare(host, { rows, widths, rowHeight, headHeight, text, headOf, around }) {
  const columns = widths.length
  const offsets = [0]
  for (const width of widths) offsets.push(offsets.at(-1) + width)
  host.innerHTML = ''
  const scroller = document.createElement('div')
  scroller.style.cssText =
    'height:100%;overflow:auto;position:relative;overflow-anchor:none;font:13px/1.35 sans-serif;background:#fff'
  const track = document.createElement('div')
  track.style.cssText = `height:${Math.min(4e6, rows * rowHeight + headHeight)}px;width:${offsets[columns]}px`
  const view = document.createElement('div')
  view.style.cssText = 'position:sticky;top:0;left:0;contain:strict;overflow:clip;background:#fff'
  const body = document.createElement('div')
  body.style.cssText = `position:absolute;inset:${headHeight}px 0 0 0;overflow:clip`
  const block = document.createElement('div')
  block.style.cssText = 'position:absolute;inset:0;will-change:transform'
  host.append(scroller)
  scroller.append(track)
  track.append(view)
  view.append(body)
  body.append(block)
  view.style.width = `${scroller.clientWidth}px`
  view.style.height = `${scroller.clientHeight}px`
  const bodyHeight = scroller.clientHeight - headHeight
  const slots = Math.floor(bodyHeight / rowHeight) + 2
  let most = 0
  for (let first = 0; first < columns; first++) {
    let end = first
    while (end < columns && offsets[end] < offsets[first + 1] + scroller.clientWidth) end++
    most = Math.max(most, end - first)
  }
  const bands = Array.from({ length: slots }, () => {
    const element = document.createElement('div')
    element.style.cssText = `position:absolute;left:0;right:0;top:0;height:${rowHeight}px;contain:strict;overflow:clip;border-bottom:1px solid #eee;box-sizing:border-box`
    const part = document.createElement('div')
    part.style.cssText = `position:absolute;top:0;bottom:0;left:0;width:${offsets[columns]}px`
    element.append(part)
    const cells = Array.from({ length: most }, () => {
      const cell = document.createElement('div')
      cell.style.cssText = `position:absolute;top:0;bottom:0;padding:0 10px;overflow:clip;white-space:pre;text-overflow:ellipsis;line-height:${rowHeight - 1}px;box-sizing:border-box`
      const node = document.createTextNode('')
      cell.append(node)
      part.append(cell)
      return { cell, node, column: -1 }
    })
    block.append(element)
    return { element, part, cells, row: -1, head: headOf ? makeHead(element, rowHeight) : null }
  })
  const stuck = (around?.(0) ?? []).map((_, level) => {
    const element = document.createElement('div')
    element.style.cssText = `position:absolute;left:0;right:0;top:0;height:${rowHeight}px;contain:strict;overflow:clip;background:#eef;z-index:1`
    body.append(element)
    return { element, level, head: makeHead(element, rowHeight) }
  })
  const showHead = ({ head, element }, at, shift) => {
    if (head.at === at.name) {
      for (const { part } of head.sums) part.style.transform = `translateX(${-shift}px)`
      return
    }
    head.at = at.name
    element.style.background = '#eef'
    head.name.nodeValue = at.text
    at.sums.forEach(([column, sum], i) => {
      const { part, node } = head.sums[i]
      part.style.left = `${offsets[column]}px`
      part.style.width = `${widths[column]}px`
      part.style.transform = `translateX(${-shift}px)`
      node.nodeValue = sum
    })
  }
  let base = 0
  const draw = () => {
    const offset = scroller.scrollTop
    const shift = scroller.scrollLeft
    const first = Math.floor(offset / rowHeight)
    const end = Math.min(rows, Math.ceil((offset + bodyHeight) / rowHeight))
    let firstColumn = 0
    while (offsets[firstColumn + 1] <= shift) firstColumn++
    let endColumn = firstColumn
    while (endColumn < columns && offsets[endColumn] < shift + scroller.clientWidth) endColumn++
    if (Math.abs(first - base) * rowHeight > 100_000) base = first
    for (let row = first; row < end; row++) {
      const band = bands[row % slots]
      const fresh = band.row !== row
      if (fresh) {
        band.row = row
        band.element.style.transform = `translateY(${(row - base) * rowHeight}px)`
      }
      const at = headOf?.(row)
      if (band.head && fresh) {
        band.part.hidden = at !== null
        for (const one of [band.head.box, ...band.head.sums.map(({ part }) => part)]) one.hidden = at === null
        if (at === null) band.element.style.background = ''
        else showHead(band, at, shift)
      }
      if (at) continue
      band.part.style.transform = `translateX(${-shift}px)`
      for (let c = firstColumn; c < endColumn; c++) {
        const slot = band.cells[c % most]
        const moved = slot.column !== c
        if (moved) {
          slot.column = c
          slot.cell.style.left = `${offsets[c]}px`
          slot.cell.style.width = `${widths[c]}px`
        }
        if (moved || fresh) slot.node.nodeValue = text(row, c)
      }
    }
    if (around)
      for (const { element, level, head } of stuck) {
        const heads = around(Math.floor((offset + level * rowHeight) / rowHeight))
        const at = heads[level]
        // It is pushed up by the next of its level or of one above.
        const room = at.end * rowHeight - offset - level * rowHeight
        element.style.transform = `translateY(${level * rowHeight + Math.min(0, room - rowHeight)}px)`
        showHead({ head, element }, at, shift)
      }
    block.style.transform = `translateY(${base * rowHeight - offset}px)`
  }
  scroller.addEventListener('scroll', draw, { passive: true })
  draw()
  return { scroller, unmount: () => host.replaceChildren() }
}

const SUMS = 3

/** A head's text, and places for what columns come to. */
function makeHead(element, rowHeight) {
  const place = style => {
    const box = document.createElement('div')
    box.style.cssText = `position:absolute;top:0;bottom:0;overflow:clip;white-space:pre;line-height:${rowHeight - 1}px;${style}`
    const node = document.createTextNode('')
    box.append(node)
    element.append(box)
    return { part: box, node }
  }
  const { part: box, node: name } = place('left:10px;width:300px;font-weight:600')
  return { box, name, sums: Array.from({ length: SUMS }, () => place('text-align:right')), at: null }
}
