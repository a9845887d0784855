/**
 * Places a floating element under (or, without room, above) an anchor, within a frame in which it is positioned
 * absolutely. Reads the layout.
 */
export function placeUnder(floating: HTMLElement, anchor: Element, frame: HTMLElement): void {
  const [area, at] = [frame.getBoundingClientRect(), anchor.getBoundingClientRect()]
  // Zoom makes the page's px and the rectangle's differ.
  const scale = area.width / frame.offsetWidth || 1
  const rtl = getComputedStyle(frame).direction === 'rtl'
  const start = (rtl ? area.right - at.right : at.left - area.left) / scale
  const [top, end] = [(at.top - area.top) / scale, (at.bottom - area.top) / scale]
  const { offsetWidth: width } = floating
  floating.style.insetInlineStart = `${Math.max(4, Math.min(start, frame.offsetWidth - width - 4))}px`
  floating.style.insetBlockStart = `${end + 2}px`
  // What is below may be less than it wants; then it scrolls, or stands above where there is more room.
  const below = frame.offsetHeight - end - 8
  const height = Math.min(floating.scrollHeight, 460)
  const above = height > below && top > below
  floating.style.maxBlockSize = `${Math.max(120, above ? top - 8 : below)}px`
  if (above) floating.style.insetBlockStart = `${Math.max(4, top - Math.min(height, top - 8) - 4)}px`
}
