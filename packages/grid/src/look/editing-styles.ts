import { sharedSheet } from './sheets.ts'

/** The field in a cell, its choices, what is pending, and the box in which words are replaced. */
const styles = `
.cell-editor { position: absolute; z-index: 5; display: flex; box-sizing: border-box; background: var(--_paper); outline: 2px solid var(--_on); outline-offset: -1px; border-radius: 2px; }
.cell-editor[hidden] { display: none; }
.cell-editor.out-of-view { opacity: 0; pointer-events: none; }
.edit-field { flex: 1; min-inline-size: 0; box-sizing: border-box; padding: 0 var(--_pad); border: 0; outline: none; background: none; color: inherit; font: inherit; }
textarea.edit-field { block-size: 120px; padding-block: 6px; background: var(--_paper); outline: 2px solid var(--_on); resize: vertical; line-height: 1.4; }
.cell-editor .calendar { border: 0; background: none; color: var(--_faint); inline-size: 26px; cursor: pointer; font: inherit; }
.cell-editor .native-date { position: absolute; inset-block-end: 0; inset-inline-end: 0; inline-size: 1px; block-size: 1px; opacity: 0; border: 0; padding: 0; }
.choice-list { max-block-size: min(260px, var(--_room, 260px)); overflow: auto; padding: 4px; min-inline-size: 140px; }
.choice { padding: 5px 10px; border-radius: 4px; cursor: pointer; }
.choice:hover { background: color-mix(in srgb, var(--_ink) 6%, transparent); }
.choice[aria-selected='true'] { background: var(--_on-tint); color: var(--_on-ink); }
.no-choice { padding: 5px 10px; color: var(--_faint); }
.pending-list, .choice-list { border: 1px solid var(--_rule); border-radius: var(--_radius); background: var(--_paper); box-shadow: 0 12px 30px -16px #000a; font-size: 13px; }
.pending-list { inline-size: min(560px, 94vw); max-block-size: min(420px, var(--_room, 420px)); overflow: auto; padding: 10px 12px; }
.pending-title { display: flex; justify-content: space-between; align-items: baseline; font-weight: 600; margin-block-end: 6px; }
.pending-row { padding-block: 6px; border-block-start: 1px solid var(--_rule-soft); }
.pending-head, .pending-cell { display: flex; flex-wrap: wrap; gap: 2px 10px; align-items: baseline; }
.pending-cell { padding-inline-start: 14px; }
.pending-name { font-weight: 600; }
.pending-head > .offer:not(.pending-name), .pending-cell > .offer { margin-inline-start: auto; }
.pending-head > .offer ~ .offer:not(.pending-name) ~ .offer { margin-inline-start: 0; }
.pending-said.calm { color: var(--_faint); }
.pending-column { color: var(--_faint); min-inline-size: 90px; }
.pending-cell s { color: var(--_faint); }
.pending-cell .wrong, .pending-said { color: var(--_held); }
.replace { inline-size: min(440px, calc(100vw - 24px)); max-block-size: calc(100vh - 24px); overflow: auto; }
.replace h2 { margin: 0 0 12px; font-size: 15px; font-weight: 600; }
.replace form { display: grid; gap: 8px; font-size: 13px; }
.replace .field { display: flex; align-items: center; gap: 8px; }
.replace .field > span { color: var(--_faint); min-inline-size: 92px; }
.replace .field :is(input, select) {
  flex: 1; min-inline-size: 0; border: 1px solid var(--_rule); border-radius: 5px; background: var(--_paper); color: var(--_ink); padding: 5px 8px; font: inherit;
}
.replace .tick { display: flex; align-items: center; gap: 8px; }
.replace .replace-said { margin: 6px 0 0; font-size: 13px; min-block-size: 1.45em; }
.replace-list { margin: 0; padding: 0; list-style: none; block-size: 176px; overflow: auto; border-block: 1px solid var(--_rule); }
.replace-list li { display: flex; gap: 8px; padding: 2px 0; block-size: 22px; white-space: nowrap; }
.replace-list li > * { overflow: hidden; text-overflow: ellipsis; }
.replace-list b { flex: none; inline-size: 84px; font-weight: 400; color: var(--_faint); }
.replace-list s { max-inline-size: 45%; color: var(--_faint); }
.replace-list .wrong span { color: var(--_held); text-decoration: underline wavy; }
.replace-list .more { color: var(--_faint); }
`

/** They come with editing. */
export const editingSheet = (document: Document): CSSStyleSheet => sharedSheet(document, styles)
