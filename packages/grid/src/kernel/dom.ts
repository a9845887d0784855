/** Makes an element with a class, and puts it into a parent. */
export function make<Name extends keyof HTMLElementTagNameMap>(
  name: Name,
  className = '',
  parent?: ParentNode,
): HTMLElementTagNameMap[Name] {
  const element = document.createElement(name)
  if (className) element.className = className
  parent?.append(element)
  return element
}

/** A choice of a list. */
export function makeOption(list: HTMLSelectElement, value: string, text: string): void {
  const option = make('option', '', list)
  option.value = value
  option.textContent = text
}

/** What an event happened to, where that is an element; of whichever window. */
export const elementOf = (target: EventTarget | null): HTMLElement | null =>
  target && 'closest' in target ? (target as HTMLElement) : null

/** Whether something happened in the detail of a row; `within`: and not to its cell itself. */
export function isInDetail(event: Event, within = false): boolean {
  const path = event.composedPath()
  const at = path.findIndex(target => elementOf(target)?.classList.contains('detailcell'))
  return within ? at > 0 : at >= 0
}

/** The element below the same shadow root, or in the same page, that has the focus. */
export function focusedBeside(element: Node): HTMLElement | null {
  const root = element.getRootNode()
  return isRoot(root) ? elementOf(root.activeElement) : null
}

const isRoot = (node: Node): node is ShadowRoot => 'activeElement' in node

/** The element in whose shadow root an element stands. */
export function hostOf(element: Element): Element {
  const root = element.getRootNode()
  return isRoot(root) && 'host' in root ? root.host : element.ownerDocument.documentElement
}

/** Keys of the page, such as Ctrl+K, that mean nothing to a field. */
const isPagesKey = ({ key, ctrlKey, metaKey, altKey }: KeyboardEvent): boolean =>
  /^F\d+$/.test(key) || ((ctrlKey || metaKey) && !altKey && /^[^acvxyz]$/i.test(key))

/** What is typed in a field means nothing to what is around it; the page's own keys go on to it. */
export function keepKey(event: KeyboardEvent): void {
  if (!isPagesKey(event)) event.stopPropagation()
}

/** Things to give back, last taken first. What listens, observes or allocates registers here where it is made. */
export class Disposal {
  private readonly tasks: (() => void)[] = []

  add(task: () => void): void {
    this.tasks.push(task)
  }

  listen<Name extends keyof HTMLElementEventMap>(
    target: HTMLElement | ShadowRoot,
    name: Name,
    listener: (event: HTMLElementEventMap[Name]) => void,
    options?: AddEventListenerOptions,
  ): void {
    target.addEventListener(name, listener as EventListener, options)
    this.add(() => target.removeEventListener(name, listener as EventListener, options))
  }

  dispose(): void {
    for (const task of this.tasks.splice(0).reverse()) task()
  }
}
