import { make } from './dom.ts'
import type { Texts } from './texts.ts'

/** Asks a question before something happens; resolves with whether it shall. */
export function askFirst(parent: HTMLElement, texts: Texts, question: string, yes: string): Promise<boolean> {
  const dialog = make('dialog', 'confirm', parent)
  dialog.setAttribute('part', 'confirm')
  const text = make('p', '', dialog)
  text.textContent = question
  text.id = 'question'
  dialog.setAttribute('aria-labelledby', text.id)
  const row = make('div', 'choices', dialog)
  const button = (title: string, className: string): HTMLButtonElement => {
    const made = make('button', className, row)
    made.type = 'button'
    made.textContent = title
    return made
  }
  const no = button(texts.cancel, 'button')
  const go = button(yes, 'button strong')
  return new Promise(resolve => {
    no.onclick = () => dialog.close()
    go.onclick = () => dialog.close('yes')
    dialog.onclose = () => {
      dialog.remove()
      resolve(dialog.returnValue === 'yes')
    }
    dialog.showModal()
    no.focus()
  })
}
