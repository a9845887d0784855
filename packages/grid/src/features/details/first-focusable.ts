const FOCUSABLE =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), summary, [tabindex]:not([tabindex="-1"])'

/** The first element within another that takes the focus, also within shadow roots and what stands in slots. */
export function firstFocusable(within: Element): HTMLElement | undefined {
  for (const child of childrenOf(within)) {
    if (child.matches(FOCUSABLE)) return child as HTMLElement
    const inner = firstFocusable(child)
    if (inner) return inner
  }
  return undefined
}

function childrenOf(element: Element): readonly Element[] {
  const assigned = element instanceof HTMLSlotElement ? element.assignedElements() : []
  return assigned.length > 0 ? assigned : [...(element.shadowRoot ?? element).children]
}
