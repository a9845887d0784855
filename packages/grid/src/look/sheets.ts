import { fillSheet } from '../kernel/simulated-dom.ts'

/** By document and rules. */
const sheets = new WeakMap<Document, Map<string, CSSStyleSheet>>()

/** A sheet that can be adopted in a document: one made in another cannot. */
export const newSheet = (document: Document): CSSStyleSheet =>
  new (document.defaultView ?? window).CSSStyleSheet()

/** One style sheet for all that adopt it in a document; adopted sheets are not subject to style policies. */
export function sharedSheet(document: Document, rules: string): CSSStyleSheet {
  const ofDocument = sheets.get(document) ?? new Map<string, CSSStyleSheet>()
  sheets.set(document, ofDocument)
  const known = ofDocument.get(rules)
  if (known) return known
  const sheet = newSheet(document)
  fillSheet(sheet, rules)
  ofDocument.set(rules, sheet)
  return sheet
}
