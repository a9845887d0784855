/**
 * A list whose items are dragged to other places by a handle, or moved by the arrow keys on it. Handles have the class
 * `grab` and stand one in each item. While an item is dragged it takes the place of the one that it is over.
 */
export function useDragList(
  list: Readonly<Ref<HTMLElement | null>>,
  count: () => number,
  place: (from: number, to: number) => void,
) {
  const dragged = ref(-1)
  const move = (from: number, to: number): void => {
    if (from !== to && from >= 0 && to >= 0 && to < count()) place(from, to)
  }

  function over(event: PointerEvent): void {
    if (dragged.value < 0 || !list.value) return
    const items = [...list.value.children]
    const under = items.findIndex(item => {
      const { top, bottom } = item.getBoundingClientRect()
      return event.clientY >= top && event.clientY < bottom
    })
    if (under < 0 || under === dragged.value) return
    move(dragged.value, under)
    dragged.value = under
  }

  function grab(event: PointerEvent, at: number): void {
    if (event.button !== 0) return
    event.preventDefault()
    dragged.value = at
    list.value?.setPointerCapture(event.pointerId)
  }

  async function nudge(event: KeyboardEvent, at: number): Promise<void> {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key]
    if (!by) return
    event.preventDefault()
    move(at, at + by)
    await nextTick()
    list.value?.querySelectorAll<HTMLElement>('.grab')[at + by]?.focus()
  }

  const drop = (): void => void (dragged.value = -1)
  return { dragged, over, grab, nudge, drop }
}
