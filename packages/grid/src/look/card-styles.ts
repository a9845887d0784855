import { sharedSheet } from './sheets.ts'

/** What opens over the grid when it is asked for: cards, menus, and the box of the export. */
const styles = `
.card .place .shared-title { flex: 1; font-weight: 600; overflow: clip; text-overflow: ellipsis; white-space: nowrap; }
.card .place .button { flex: none; padding: 3px 9px; }
.card .place { display: grid; gap: 5px; }
.card .field { display: flex; align-items: center; gap: 6px; flex-wrap: wrap; font-size: 12.5px; }
.card .field > span { color: var(--_faint); min-inline-size: 88px; }
.card .field select, .card .field input:not([type='checkbox']) { flex: 1; min-inline-size: 0; border: 1px solid var(--_rule); border-radius: 5px; background: var(--_paper); color: var(--_ink); padding: 3px 7px; font: inherit; }
.card .field input.short { flex: none; inline-size: 54px; }
.card .field .direction { padding: 2px 9px; }
.card .fields, .card .parts-of-card { display: grid; gap: 6px; }
.card .parts-of-card:empty { display: none; }
.card .check-line { display: inline-flex; align-items: center; gap: 5px; font-size: 12.5px; }
.card .check-line input { accent-color: var(--_on); margin: 0; }
.card .keep { border: 1px solid var(--_rule-soft); border-radius: 6px; margin: 0; padding: 4px 9px 8px; display: grid; gap: 5px; min-inline-size: 0; }
.card .keep legend { color: var(--_faint); font-size: 12px; padding-inline: 4px; }
.card .keep .field > span { min-inline-size: 0; }
.card .keep .indented { margin-inline-start: 22px; }
.card .preview small { color: var(--_faint); font-size: 12px; }
.card .preview ul { list-style: none; margin: 3px 0 0; padding: 0; display: grid; gap: 1px; }
.card .preview li { position: relative; display: flex; gap: 8px; justify-content: space-between; padding: 1px 6px; font-size: 12.5px; }
.card .preview li i { position: absolute; inset-block: 1px; inset-inline-start: 0; background: var(--_on-tint); border-radius: 2px; }
.card .preview li span { position: relative; overflow: clip; text-overflow: ellipsis; white-space: nowrap; }
.card .preview li b { position: relative; font-weight: 600; font-variant-numeric: tabular-nums; }
.card-foot { display: flex; gap: 6px; }
.arrangements { outline: none; inline-size: min(360px, calc(100% - 8px)); }
.arrangements .sections { display: grid; gap: 12px; }
.arrangements section { display: grid; gap: 5px; min-inline-size: 0; }
.arrangements section > b { font-weight: 600; }
.arrangements section + section { border-block-start: 1px solid var(--_rule-soft); padding-block-start: 10px; }
.arrangements p { margin: 0; color: var(--_faint); font-size: 12.5px; }
.arrangements ul { list-style: none; margin: 0; padding: 0; display: grid; max-block-size: 210px; overflow: auto; }
.arrangements li { display: flex; align-items: center; gap: 5px; padding-block: 2px; font-size: 12.5px; min-inline-size: 0; }
.arrangements li > span, .arrangements .take { flex: 1; min-inline-size: 0; overflow-wrap: anywhere; text-align: start; }
.arrangements li > .button, .keep-as .button { flex: none; font-size: 12px; padding: 2px 8px; }
.arrangements .take { border: 0; background: none; padding: 3px 6px; border-radius: 5px; cursor: pointer; font-weight: 600; }
.arrangements .take:hover { background: var(--_on-tint); color: var(--_on-ink); }
.arrangements section > .button { justify-self: start; font-size: 12px; padding: 3px 9px; }
.keep-as { display: flex; gap: 6px; flex: 1; min-inline-size: 0; }
.keep-as .value { flex: 1; }
.go-to .field > span { min-inline-size: 0; }
.go-to .field select { flex: none; max-inline-size: 130px; }
.go-to { inline-size: min(380px, calc(100% - 8px)); }
.level-card { inline-size: min(330px, calc(100% - 8px)); }
.export { display: grid; gap: 8px; padding: 12px; inline-size: min(350px, calc(100vw - 24px)); }
.export progress { inline-size: 100%; }
.export .choices { display: flex; justify-content: flex-end; gap: 8px; }
.export .problem:empty { display: none; }
.card { inline-size: min(308px, calc(100% - 8px)); max-block-size: min(560px, var(--_room, 100vh)); padding: 10px 12px 12px; display: flex; flex-direction: column; gap: 9px; }
.card.embedded { position: static; inline-size: auto; padding: 0; border: 0; box-shadow: none; background: none; overflow: visible; }
.condition { display: flex; flex-direction: column; gap: 9px; }
.card > * { flex: none; }
.card-head { display: flex; align-items: center; justify-content: space-between; }
.card-head b { font-weight: 600; overflow: clip; text-overflow: ellipsis; white-space: nowrap; }
.card .remove { border: 0; background: none; padding: 1px 7px 3px; border-radius: 5px; cursor: pointer; color: var(--_faint); }
.card .remove:hover { background: color-mix(in srgb, var(--_ink) 8%, transparent); }
.card .order { display: grid; grid-template-columns: 1fr 1fr; gap: 6px; }
.card .order .button { font-size: 12px; padding: 3px 6px; }
.card .button[aria-pressed='true'] { background: var(--_rank); color: var(--_rank-ink); border-color: var(--_rank); }
.parts { display: flex; flex-direction: column; gap: 7px; border-block-start: 1px solid var(--_rule-soft); padding-block-start: 9px; }
.parts .match { display: flex; gap: 6px; align-items: center; font-size: 12px; color: var(--_faint); }
.part-row { display: flex; flex-wrap: wrap; gap: 5px; align-items: center; }
.card select, .card .value, .card .count {
  border: 1px solid var(--_rule); border-radius: 5px; background: var(--_paper); color: var(--_ink); padding: 3px 6px; font: inherit; font-size: 12.5px; min-inline-size: 0;
}
.part-row .value { flex: 1 1 70px; }
.card .count { inline-size: 62px; }
.card [aria-invalid='true'] { border-color: var(--_held); color: var(--_held); }
.part-row .exact { flex-basis: 100%; display: flex; align-items: center; gap: 6px; font-size: 12px; color: var(--_faint); }
.card input[type='checkbox'] { accent-color: var(--_on); inline-size: 14px; block-size: 14px; margin: 0; flex: none; }
.parts .add { align-self: start; font-size: 12px; padding: 2px 8px; color: var(--_faint); }
.range .plot { position: relative; block-size: 58px; margin-inline: 7px; }
.range .bars { position: absolute; inset: 0 0 9px; display: flex; align-items: end; gap: 1.5px; }
.range .bars i { flex: 1; block-size: max(1px, calc(var(--share) * 100%)); background: var(--_rule); border-radius: 1px 1px 0 0; }
.range .bars i.in { background: color-mix(in srgb, var(--_on) 62%, var(--_paper)); }
.handle {
  position: absolute; inset-block: 0; inline-size: 14px; margin-inline-start: -7px; cursor: ew-resize; touch-action: none; outline: none; border-radius: 4px;
}
.handle::before { content: ''; position: absolute; inset-block: 0 8px; inset-inline-start: 6px; inline-size: 2px; background: var(--_on); }
.handle::after { content: ''; position: absolute; inset-block-end: 1px; inset-inline-start: 2px; inline-size: 10px; block-size: 14px; border-radius: 4px; background: var(--_on); }
.handle:focus-visible { box-shadow: 0 0 0 2px var(--_selected-mark); }
.values .search { inline-size: 100%; font-size: 12.5px; margin-block-end: 4px; }
.values ul { list-style: none; margin: 0; padding: 0; max-block-size: 190px; overflow: auto; }
.values label { display: grid; grid-template-columns: 14px minmax(0, 1fr) 60px minmax(42px, auto); gap: 8px; align-items: center; padding-block: 3px; cursor: pointer; font-size: 12.5px; }
.values label span { overflow: clip; text-overflow: ellipsis; white-space: nowrap; }
.values li.none span { font-style: italic; }
.values label i { block-size: 5px; border-radius: 3px; background: linear-gradient(var(--_on), var(--_on)) 0 / calc(var(--share) * 100%) no-repeat var(--_rule-soft); }
.values label i:dir(rtl) { background-position: 100% 0; }
.values small { font: 400 11.5px/1 var(--meadow-font-code, ui-monospace, monospace); text-align: end; color: var(--_faint); }
.values .more { padding: 4px 0; color: var(--_faint); font-size: 12px; }
.card .phrase { display: grid; gap: 3px; font-size: 12px; color: var(--_faint); }
.card .phrase .value { font: 400 12px/1.4 var(--meadow-font-code, ui-monospace, monospace); }
.card .problem { margin: 0; font-size: 12px; color: var(--_held); }
.card .problem:empty { display: none; }
.card .acts { display: flex; gap: 6px; }
.card .acts .button { font-size: 12px; padding: 3px 9px; }
.menu {
  padding: 0; inline-size: min(340px, calc(100% - 8px)); max-block-size: min(430px, var(--_room, 100vh));
  background: var(--_paper); border: 1px solid var(--_rule); border-radius: 8px; box-shadow: 0 12px 32px -16px #0008;
  display: grid; grid-template-rows: auto minmax(0, 1fr) auto;
}
.menu-foot { display: flex; flex-wrap: wrap; gap: 5px; padding: 7px 8px; border-block-start: 1px solid var(--_rule-soft); }
.menu-foot .button { font-size: 12px; padding: 3px 8px; }
.menu li { position: relative; }
.menu li.part-name { color: var(--_faint); font-size: 11.5px; padding-block: 6px 1px; }
.menu li.part-name:hover { background: none; }
.menu li.before::before, .menu li.behind::after { content: ''; position: absolute; inset-inline: 0; inset-block-start: -2px; block-size: 3px; border-radius: 2px; background: var(--_on); }
.menu li.behind::after { inset-block: auto -2px; }
.menu li.dragged { opacity: .55; }
.menu .move { border: 0; background: none; padding: 1px 3px; color: var(--_faint); cursor: grab; touch-action: none; border-radius: 4px; line-height: 1.3; }
.menu .move:disabled { visibility: hidden; }
.menu .search { margin: 8px; inline-size: auto; }
.menu ul { list-style: none; margin: 0; padding: 0 6px 8px; overflow: auto; max-block-size: 300px; }
.menu li { display: flex; align-items: center; gap: 6px; padding: 2px 4px; border-radius: 5px; }
.menu li:hover { background: var(--_panel); }
.menu label { flex: 1; display: flex; gap: 8px; align-items: center; min-inline-size: 0; padding-block: 3px; cursor: pointer; }
.menu label span { overflow: clip; text-overflow: ellipsis; white-space: nowrap; }
.menu input[type='checkbox'] { accent-color: var(--_on); inline-size: 15px; block-size: 15px; margin: 0; flex: none; }
.menu .pin { border: 1px solid transparent; background: none; border-radius: 5px; padding: 1px 7px; cursor: pointer; color: var(--_faint); font-size: 12px; }
.menu .pin:hover { border-color: var(--_rule); }
.menu .pin[aria-pressed='true'] { background: var(--_on-tint); color: var(--_on-ink); }
.menu small { color: var(--_faint); margin-inline-start: auto; flex: 0 20 auto; min-inline-size: 0; overflow: clip; text-overflow: ellipsis; white-space: nowrap; }
.menu .more { padding: 6px 8px; color: var(--_faint); }
@media (forced-colors: active) {
  .range .bars i { forced-color-adjust: none; background: GrayText; }
  .range .bars i.in { background: Highlight; }
  .handle::before, .handle::after { forced-color-adjust: none; background: CanvasText; }
  .handle:focus-visible { outline: 2px solid Highlight; outline-offset: -2px; }
  .card .button[aria-pressed='true'] { forced-color-adjust: none; background: Highlight; color: HighlightText; }
}
@media (pointer: coarse) {
  .menu .pin, .menu label { min-block-size: 44px; }
  .arrangements .take, .menu .move { min-block-size: 44px; }
  .menu .move { min-inline-size: 32px; }
  .values label, .card select, .card .value { min-block-size: 44px; }
}
`

/** They come with what they are for. */
export const cardSheet = (document: Document): CSSStyleSheet => sharedSheet(document, styles)
