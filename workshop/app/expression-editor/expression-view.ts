import { acceptCompletion, autocompletion, type CompletionContext } from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { bracketMatching, StreamLanguage, syntaxHighlighting } from '@codemirror/language'
import { setDiagnostics } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { EditorView, keymap } from '@codemirror/view'
import { classHighlighter } from '@lezer/highlight'
import type { Field } from '@vast-meadow/engine'
import { styleNonce } from '~/utils/style-nonce'
import { completionAt } from './completion'

export interface WrongPart {
  readonly message: string
  /** UTF-16 units of the text; an empty one marks nothing. */
  readonly at: { readonly from: number; readonly to: number }
}

export interface ExpressionViewOptions {
  readonly parent: HTMLElement
  readonly text: string
  readonly label: string
  /** The id of the element that says what the text comes to. */
  readonly describedBy: string
  fields(): readonly Field[]
  changed(text: string): void
}

/** An editor of one expression: offers while it is written, colours, brackets, and a mark under what is wrong. */
export interface ExpressionView {
  /** Shows another text, unless it is the one that stands there. */
  show(text: string): void
  mark(wrong: WrongPart | null): void
  focus(): void
  destroy(): void
}

// The lexis of CEL, as far as colours go; what it means is the engine's to say.
const lexis = StreamLanguage.define<null>({
  token(stream) {
    if (stream.eatSpace()) return null
    if (stream.match(/^[rb]?"(?:[^"\\]|\\.)*"?/i) || stream.match(/^[rb]?'(?:[^'\\]|\\.)*'?/i))
      return 'string'
    if (stream.match(/^(?:0x[\da-f]+|\d+(?:\.\d+)?(?:e[+-]?\d+)?)u?/i)) return 'number'
    if (stream.match(/^(?:true|false|null|in)\b/)) return 'keyword'
    if (stream.match(/^[\p{L}_][\p{L}\p{N}_]*(?=\s*\()/u)) return 'function'
    if (stream.match(/^[\p{L}_][\p{L}\p{N}_]*/u)) return 'variableName'
    stream.next()
    return null
  },
})

export function makeExpressionView(options: ExpressionViewOptions): ExpressionView {
  const offers = ({ state, pos }: CompletionContext) => {
    const found = completionAt(state.doc.toString(), pos, options.fields())
    if (!found) return null
    // The blank keeps the two apart for those who hear them.
    const shown = found.offers.map(offer => ({
      label: offer.shown,
      detail: ` ${offer.about}`,
      apply: offer.insert,
    }))
    return { from: found.from, to: found.to, options: shown, filter: false }
  }
  const view = new EditorView({
    parent: options.parent,
    state: EditorState.create({
      doc: options.text,
      extensions: [
        history(),
        bracketMatching(),
        lexis,
        syntaxHighlighting(classHighlighter),
        autocompletion({ override: [offers], icons: false, activateOnTypingDelay: 0, interactionDelay: 0 }),
        keymap.of([{ key: 'Tab', run: acceptCompletion }, ...defaultKeymap, ...historyKeymap]),
        EditorView.lineWrapping,
        EditorView.cspNonce.of(styleNonce() ?? ''),
        EditorView.contentAttributes.of({
          'aria-label': options.label,
          'aria-describedby': options.describedBy,
          spellcheck: 'false',
        }),
        EditorView.updateListener.of(({ docChanged, state }) => {
          if (docChanged) options.changed(state.doc.toString())
        }),
      ],
    }),
  })
  return {
    show(text) {
      const { length } = view.state.doc
      if (text !== view.state.doc.toString())
        view.dispatch({ changes: { from: 0, to: length, insert: text } })
    },
    mark(wrong) {
      view.contentDOM.ariaInvalid = wrong ? 'true' : null
      const { length } = view.state.doc
      const to = Math.min(wrong?.at.to ?? 0, length)
      const marked = wrong && to > wrong.at.from ? [{ ...wrong.at, to, message: wrong.message }] : []
      view.dispatch(
        setDiagnostics(
          view.state,
          marked.map(part => ({ ...part, severity: 'error' as const })),
        ),
      )
    },
    focus: () => view.focus(),
    destroy: () => view.destroy(),
  }
}
