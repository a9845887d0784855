import { areaStyles, cellStyles, frameStyles, headStyles, rowStyles } from './plain-styles.ts'
import { sharedSheet } from './sheets.ts'

/** The grid's own looks. Hosts set the custom properties named here, or reach parts by `::part`. */
const styles = `
${frameStyles}
.foot b { font-weight: 600; }
.foot .count { color: var(--_faint); }
.foot .count b { color: var(--_ink); }
.foot .count .span { border: 0; background: none; padding: 0; border-radius: 4px; color: inherit; cursor: pointer; font: inherit; white-space: nowrap; }
.foot .count .span:hover { text-decoration: underline; text-underline-offset: 2px; }
.foot .selected { color: var(--_selected-mark); }
.foot .selected { display: inline-flex; flex-wrap: wrap; align-items: baseline; gap: 2px 10px; }
.foot .selected .held { color: var(--_faint); }
.foot .selected .offers { display: inline-flex; gap: 2px; }
.offer { border: 0; background: none; padding: 0 6px; text-decoration: underline transparent; text-underline-offset: 2px; border-radius: 4px; cursor: pointer; color: inherit; }
.offer:hover { background: color-mix(in srgb, currentColor 12%, transparent); }
.search::placeholder { color: var(--_faint); opacity: 1; }
.button {
  border: 1px solid var(--_rule); border-radius: var(--_radius); background: var(--_paper); padding: 4px 10px; cursor: pointer;
}
.button:hover:not(:disabled) { border-color: var(--_faint); }
:disabled { cursor: default; opacity: .55; }
.tools { display: flex; flex-wrap: wrap; gap: 8px; }
.tools { margin-inline-start: auto; }
.bar > .more { display: none; margin-inline-start: auto; }
.chips { display: flex; flex-wrap: wrap; gap: 6px; flex: 1; min-inline-size: 0; }
.chip {
  display: inline-flex; align-items: center; border-radius: 5px; background: var(--_on-tint); color: var(--_on-ink);
  font-size: 12px; padding-inline-start: 8px; max-inline-size: 100%;
}
.chip b { font-weight: 600; }
.chip .what { min-inline-size: 0; border: 0; background: none; padding: 3px 0; color: inherit; font: inherit; border-radius: 5px; text-align: start; overflow: clip; text-overflow: ellipsis; white-space: nowrap; }
.chip button.what { cursor: pointer; }
.chip button.what:hover { text-decoration: underline; text-underline-offset: 2px; }
.chip .lift { flex: none; border: 0; background: none; padding: 3px 8px; cursor: pointer; color: inherit; border-radius: 5px; }
.chip .lift:hover { background: color-mix(in srgb, currentColor 14%, transparent); }
.working { position: absolute; inset-inline: 0; inset-block-end: -2px; block-size: 2px; overflow: clip; visibility: hidden; }
.working.on { visibility: visible; }
/* Only while it shows: an animation that nobody sees still costs every frame its style. */
.working.on::after {
  content: ''; position: absolute; inset-block: 0; left: 0; inline-size: 30%; background: var(--_on); animation: travel 1.1s linear infinite;
}
.working.on:dir(rtl)::after { animation-direction: reverse; }
@keyframes travel { from { transform: translateX(-100%); } to { transform: translateX(333%); } }
@media (prefers-reduced-motion: reduce) { .working.on::after { animation-duration: 6s; } }

${rowStyles}
.meadow:dir(rtl) :is(.chip .what, .chip .what b, .arrangements li > span, .arrangements .take, .foot .count, .foot .selected > *, .foot .notice > span, .row.totals > .groupcell) { unicode-bidi: plaintext; }
.meadow:dir(rtl) .head .title { unicode-bidi: plaintext; text-align: right; }
.meadow:dir(rtl) .groupcell > b, .meadow:dir(rtl) .groupcell > small, .meadow:dir(rtl) .row.totals .cell > * { unicode-bidi: plaintext; }
.cell[data-range] {
  --_edge: var(--_selected-mark); background-image: linear-gradient(color-mix(in srgb, var(--_selected-mark) 13%, transparent), color-mix(in srgb, var(--_selected-mark) 13%, transparent));
  box-shadow: inset 0 var(--_top, 0px) var(--_edge), inset 0 calc(-1 * var(--_bottom, 0px)) var(--_edge), inset var(--_left, 0px) 0 var(--_edge), inset calc(-1 * var(--_right, 0px)) 0 var(--_edge);
}
[data-range*='t'] { --_top: 1.5px; }
[data-range*='b'] { --_bottom: 1.5px; }
[data-range*='s']:dir(ltr), [data-range*='e']:dir(rtl) { --_left: 1.5px; }
[data-range*='e']:dir(ltr), [data-range*='s']:dir(rtl) { --_right: 1.5px; }
.meadow.sweeping { user-select: none; cursor: cell; }
:is(.cell, .groupcell):focus-visible, :is(.holding, .by-keys) :is(.cell, .groupcell):focus { box-shadow: inset 0 0 0 2px var(--_selected-mark); border-radius: 2px; }
.groupcell {
  position: absolute; inset-block: 0; inset-inline-start: var(--_boxes, 0); max-inline-size: var(--_name-room, 100%); z-index: 2; background: var(--_row);
  padding-inline: calc(4px + var(--_level, 0) * 18px) 12px; white-space: pre; overflow: clip; text-overflow: ellipsis; outline: none;
}
.group > .groupcell { cursor: pointer; }
/* Printed, not seen. */
.print-frame { position: absolute; inline-size: 0; block-size: 0; border: 0; opacity: 0; pointer-events: none; }
/* How deep it stands is seen at its edge too. */
.row.group::before {
  content: ''; position: absolute; inset-block: 0; inset-inline-start: 0; inline-size: 4px; background: var(--_level-mark); z-index: 3;
}
.groupcell i { font-style: normal; display: inline-block; inline-size: 20px; color: var(--_faint); }
.groupcell .of { font-weight: 400; font-size: 12px; color: var(--_faint); margin-inline-end: 7px; }
.groupcell b { font-weight: 600; }
.groupcell small { font-weight: 400; font-size: 12px; color: var(--_faint); margin-inline-start: 8px; }
.row.group .cell { visibility: hidden; }
.row.group .cell.summary, .row.group:not(.group-foot) .cell:has(> .box) { visibility: visible; }
.row.group .cell:not(:has(> .box)) > * { display: none; }
.row.group .cell.summary { font-variant-numeric: tabular-nums; }
.row.group-foot { font-weight: 400; border-block-end: 2px solid var(--_rule); }
.row.group-foot > .groupcell { color: var(--_faint); cursor: default; }
.row.group-foot > .groupcell b { font-weight: 400; }
.length-map { grid-column: 2; position: relative; z-index: 1; background: var(--_panel); border-inline-start: 1px solid var(--_rule-soft); cursor: pointer; touch-action: none; user-select: none; color: var(--_ink); transition: color 1ms; overflow: clip; }
.length-map canvas { position: absolute; inset-inline-start: 0; display: block; }
.length-map > i { position: absolute; inset-inline: 0; inset-block-start: 0; border: 1.5px solid var(--_ink); border-radius: 3px; background: color-mix(in srgb, var(--_paper) 60%, transparent); pointer-events: none; }
.length-map .probe { position: absolute; inline-size: 0; block-size: 0; }
.thumb-label { position: absolute; z-index: 4; transform: translateY(-50%); pointer-events: none; max-inline-size: 70%; padding: 4px 11px; border-radius: 6px; background: var(--_ink); color: var(--_paper); font-size: 12.5px; overflow: clip; text-overflow: ellipsis; white-space: nowrap; box-shadow: 0 8px 22px -12px #000a; }
.stuck { position: absolute; inset-inline: 0; inset-block-start: 0; z-index: 1; }
.stuck > .row { box-shadow: 0 1px 0 var(--_rule); cursor: pointer; }
.pinned-foot { position: absolute; inset-inline: 0; z-index: 2; }
.head .row.pinned, .row.pinned { --_row: color-mix(in srgb, var(--_panel) 82%, var(--_paper)); font-weight: 400; font-size: 1em; }
.row.pinned.selected { --_row: var(--_selected); }
.row.pinned.last { border-block-end: 2px solid var(--_rule); }
.row.pinned.first { box-shadow: 0 -2px 0 var(--_rule); contain: layout style; }
.row.pinned .cell { user-select: auto; display: block; border-inline-end: 0; cursor: auto; }
/* What is changed and not saved: a corner, so that nothing moves; what is wrong is underlined as well. */
.cell.changed::after { content: ''; position: absolute; inset-block-start: 0; inset-inline-start: 0; border: 4px solid transparent; border-block-start-color: var(--_on); border-inline-start-color: var(--_on); }
.cell.wrong { color: var(--_held); text-decoration: underline wavy var(--_held) 1px; text-underline-offset: 3px; }
.cell.wrong::after { border-block-start-color: var(--_held); border-inline-start-color: var(--_held); }
.cell.conflict { background-image: repeating-linear-gradient(135deg, color-mix(in srgb, var(--_held) 18%, transparent) 0 4px, transparent 4px 10px); }
.row.new-row { --_row: var(--_on-tint); }
.row.new-row :is(.box, .opener, .act) { visibility: hidden; }
.row.row-stays { outline: 1px dashed var(--_on); outline-offset: -1px; }
.row.to-go .cell { text-decoration: line-through; color: var(--_faint); }
.row.saving .cell { opacity: .6; }
.row.refused, .row.row-wrong { box-shadow: inset 3px 0 var(--_held); }
.row.refused:dir(rtl), .row.row-wrong:dir(rtl) { box-shadow: inset -3px 0 var(--_held); }
.pending-changes { display: inline-flex; flex-wrap: wrap; gap: 4px 8px; align-items: center; }
.pending-changes[hidden] { display: none; }
.pending-changes b { color: var(--_on-ink); font-weight: 600; }
.pending-changes .wrong-count { color: var(--_held); }
.pending-here { color: var(--_faint); overflow: clip; text-overflow: ellipsis; white-space: nowrap; min-inline-size: 0; }
.live { display: inline-flex; gap: 8px; align-items: center; }
.live[hidden] { display: none; }
.offer.strong { font-weight: 600; color: var(--_on-ink); }
.offer:disabled { opacity: .5; cursor: default; }
.cell.differs { background-image: linear-gradient(color-mix(in srgb, var(--_found) 40%, transparent), color-mix(in srgb, var(--_found) 40%, transparent)); }
.row.totals {
  --_row: var(--_panel); inset-block-start: auto; font-weight: 600; border-block: 0; box-shadow: 0 -2px 0 var(--_rule);
  contain: layout style; overflow: clip; z-index: 2;
}
.head > .row.totals { box-shadow: none; border-block-end: 2px solid var(--_rule); }
.row.totals.of-some { color: var(--_selected-mark); }
.row.totals ~ .row.totals.of-some { box-shadow: 0 -1px 0 var(--_rule-soft); }
.row.totals.of-some > .groupcell { color: var(--_selected-mark); }
.row.totals .groupcell { font-weight: 400; font-size: 12px; color: var(--_faint); padding-inline-start: 4px; }
.row.totals .cell { display: flex; flex-direction: column; justify-content: center; align-items: flex-start; line-height: 1.2; }
.row.totals .cell.to-end { align-items: flex-end; }
.row.totals .cell.to-center { align-items: center; }
.row.totals .cell > * { max-inline-size: 100%; overflow: clip; text-overflow: ellipsis; }
.row.totals .cell small { font-weight: 400; font-size: 10.5px; color: var(--_faint); }
/* It wraps within itself before what stands beside it goes to a line of its own. */
.trail { display: flex; flex: 1 1 240px; flex-wrap: wrap; align-items: center; gap: 4px 5px; font-size: 12px; color: var(--_faint); min-inline-size: 0; border-radius: var(--_radius); }
.trail .step { position: relative; display: inline-flex; border-radius: 5px; background: var(--_group); color: var(--_ink); max-inline-size: 100%; touch-action: none; }
.trail .what { border: 0; background: none; padding: 3px 0 3px 9px; cursor: pointer; border-radius: 5px; min-inline-size: 0; overflow: clip; text-overflow: ellipsis; white-space: nowrap; }
.trail .what:dir(rtl) { padding: 3px 9px 3px 0; }
.trail .what b { font-weight: 600; }
.trail .what.fixed { padding-inline-end: 9px; cursor: default; }
.trail button.what:hover { text-decoration: underline; text-underline-offset: 2px; }
.trail .lift { flex: none; border: 0; background: none; padding: 3px 8px; cursor: pointer; color: var(--_faint); border-radius: 5px; }
.trail .lift:hover { background: color-mix(in srgb, currentColor 14%, transparent); }
.trail .step.before::before, .trail .step.behind::after { content: ''; position: absolute; inset-block: -3px; inset-inline-start: -4px; inline-size: 3px; border-radius: 2px; background: var(--_on); }
.trail .step.behind::after { inset-inline: auto -4px; }
.trail .empty { border: 1px dashed var(--_faint); border-radius: 5px; padding: 3px 9px; }
/* While a heading is dragged it lies over the bar, so that nothing moves under the pointer. */
.trail.offered { position: absolute; inset: 6px 10px; z-index: 2; background: var(--_paper); }
.trail.offered .empty { flex: 1; align-self: stretch; display: flex; align-items: center; justify-content: center; }
.trail.over .empty { border-color: var(--_on); color: var(--_on-ink); background: var(--_on-tint); }
.ghost { position: absolute; inset-block-start: 0; left: 0; z-index: 9; pointer-events: none; padding: 3px 10px; border-radius: 5px; background: var(--_ink); color: var(--_paper); font-size: 12px; opacity: .82; white-space: nowrap; }
.landing { position: absolute; inset-block: 0; inline-size: 3px; margin-inline-start: -2px; background: var(--_on); z-index: 8; pointer-events: none; }
.landing.refused { background: var(--_held); opacity: .5; }
.ghost.refused { background: var(--_held); opacity: 1; }
.ghost.taken { background: var(--_on-ink); opacity: 1; }
.meadow.dragging, .meadow.dragging .cell { cursor: grabbing; }
.meadow.dragging, .meadow.holding { user-select: none; }
.history { display: inline-flex; gap: 4px; }
.history[hidden] { display: none; }
.opener {
  inline-size: 20px; block-size: 20px; padding: 0; border: 0; border-radius: 4px; background: none; color: var(--_faint); cursor: pointer;
  position: relative; vertical-align: middle; margin-block-start: -2px; margin-inline-start: -7px;
}
.opener::before {
  content: ''; position: absolute; inset: 6px 7px; border: solid currentColor; border-width: 0 1.8px 1.8px 0; rotate: -45deg; inline-size: 6px; block-size: 6px;
}
.cell:has(> .opener) { text-overflow: clip; }
.opener:dir(rtl)::before { rotate: 135deg; }
.row[aria-expanded='true'] .opener::before { rotate: 45deg; inset-block-start: 4px; }
.row[aria-expanded='true'] .opener { color: var(--_on); }
.opener:hover { background: var(--_rule-soft); color: var(--_ink); }
.row.group .opener, .row.pending .opener, .row.pinned .opener { display: none; }
.row.detail > .part { display: none; }
.row.detail { --_row: color-mix(in srgb, var(--_panel) 55%, var(--_paper)); line-height: 1.45; }
.detailcell { position: absolute; inset: 0; outline: none; overflow: clip; }
.detailcell:focus-visible { box-shadow: inset 0 0 0 2px var(--_selected-mark); border-radius: 2px; }
.detail-content { position: absolute; inset-inline: 0; inset-block-start: 0; display: flow-root; box-sizing: border-box; border-inline-start: 3px solid var(--_on); white-space: normal; }
.detail-content.empty::before { content: attr(data-empty); display: block; padding: 12px 16px; color: var(--_faint); }
.column-list { display: grid; grid-template-columns: repeat(auto-fit, minmax(min(220px, 100%), 1fr)); gap: 10px 24px; margin: 0; padding: 12px 16px 14px; }
.column-list:empty { display: none; }
.column-list dt { font-size: 12px; color: var(--_faint); }
.column-list dd { margin: 0; overflow-wrap: anywhere; unicode-bidi: plaintext; text-align: match-parent; font-variant-numeric: tabular-nums; }
.column-list dd.missing { color: var(--_faint); }
.column-list dd img { max-block-size: 96px; max-inline-size: 100%; }

${cellStyles}
.cell.acting { display: flex; gap: 6px; align-items: center; }
.act:not([data-tone]) { --_tone: var(--_ink); }
.act {
  font-size: .92em; line-height: 1.3; border: 1px solid color-mix(in srgb, var(--_tone) 38%, transparent); border-radius: 5px;
  background: var(--_paper); color: var(--_tone); padding: 2px 8px; cursor: pointer;
}
.act.failed { border-style: dashed; border-color: var(--_poppy); }
.act[aria-busy='true'] { cursor: progress; }
.batch { display: flex; flex-wrap: wrap; gap: 6px; }
.batch .act { font-size: inherit; padding: 4px 10px; }
.foot .notice { display: inline-flex; flex-wrap: wrap; align-items: baseline; gap: 2px 8px; margin-inline-start: auto; }
.foot .notice.failed { color: var(--_poppy); }
.act:hover:not(:disabled) { background: color-mix(in srgb, var(--_tone) 12%, var(--_paper)); }

${headStyles}
.rank {
  font: 500 10px/15px var(--meadow-font-code, ui-monospace, monospace); background: var(--_rank); color: var(--_rank-ink);
  border-radius: 3px; padding: 0 4px; margin-inline-start: 6px; flex: none;
}
.rank:empty { display: none; }
.help {
  flex: none; font-weight: 600; font-size: 9px; line-height: 12px; inline-size: 14px; block-size: 14px; text-align: center; border: 1px solid var(--_faint);
  border-radius: 50%; color: var(--_faint); margin-inline-start: 6px;
}
.grip { position: absolute; inset-inline-end: 0; inset-block: 0; inline-size: 9px; cursor: col-resize; touch-action: none; }
.grip:hover::after, .grip.held::after { content: ''; position: absolute; inset-inline-end: 0; inset-block: 4px; inline-size: 3px; border-radius: 2px; background: var(--_on); }

.matches { display: flex; align-items: center; gap: 4px; }
.found { font-size: 12px; color: var(--_faint); white-space: nowrap; padding-inline: 2px; }
.cell.found-beyond:not(:focus-visible) { box-shadow: inset -4px 0 var(--_found-edge); }
.cell.found-beyond:dir(rtl):not(:focus-visible) { box-shadow: inset 4px 0 var(--_found-edge); }
::highlight(meadow-found) { background-color: var(--_found); color: var(--_found-ink); }
.more-of {
  position: absolute; inset-block: 5px; inset-inline-end: 10px; inline-size: 17px; display: grid; place-content: center; font-size: 11px;
  color: var(--_faint); background: var(--_panel); border-radius: 4px; opacity: 0; cursor: pointer;
}
.more-of::before { content: '▾'; }
.head .to-end .more-of { inset-inline: 3px auto; }
.head .cell:is(:hover, :focus-visible, .asks) .more-of { opacity: 1; }
.head .cell.asks .more-of { color: var(--_on-ink); background: var(--_on-tint); }
.head .cell .more-of:hover { color: var(--_paper); background: var(--_ink); }
.head .row.strip { --_row: var(--_paper); font-weight: 400; font-size: 1em; border-block-end-color: var(--_rule); }
.head .strip .cell { padding: 0; display: block; user-select: auto; line-height: normal; }
.strip .cell.asks { background: var(--_on-tint); }
.strip input {
  inline-size: 100%; block-size: 100%; border: 0; background: none; padding-inline: var(--_pad); color: var(--_ink);
  font: 400 12px/1 var(--meadow-font-code, ui-monospace, monospace); text-align: inherit; outline: none; border-radius: 0;
}
.strip .asks input { color: var(--_on-ink); }
.strip input::placeholder { color: var(--_faint); opacity: .75; }
.strip input:focus { box-shadow: inset 0 0 0 2px var(--_selected-mark); background: var(--_paper); color: var(--_ink); }
.strip input[aria-invalid='true'] { color: var(--_held); box-shadow: inset 0 -2px 0 0 var(--_held); }
.popup { position: fixed; inset: auto; margin: 0; box-sizing: border-box; color: var(--_ink); max-block-size: var(--_room, 100vh); }
.popup:not(:popover-open) { display: none; }
.hint {
  border: 0; max-inline-size: min(360px, calc(100% - 8px)); padding: 5px 9px; border-radius: var(--_radius);
  background: var(--_ink); color: var(--_paper); font-size: 12px; line-height: 1.4; pointer-events: none; box-shadow: 0 8px 22px -12px #000a;
}
.hint.wrong { background: var(--_held); color: var(--_paper); }
.card, .cell-menu {
  background: var(--_paper); border: 1px solid var(--_rule); border-radius: 8px;
  box-shadow: 0 16px 40px -18px #0009; overflow: auto;
}
.cell-menu { padding: 5px; display: grid; min-inline-size: 170px; max-inline-size: min(320px, calc(100% - 8px)); }
.cell-menu button { border: 0; background: none; text-align: start; padding: 5px 9px; border-radius: 5px; cursor: pointer; overflow: clip; text-overflow: ellipsis; white-space: nowrap; }
.cell-menu button:is(:hover, :focus-visible) { background: var(--_on-tint); color: var(--_on-ink); outline-offset: -2px; }
.hindering { list-style: none; margin: 0; padding: 0; display: grid; gap: 6px; text-align: start; max-block-size: 50cqb; overflow: auto; }
.hindering li { display: flex; gap: 8px; align-items: center; border: 1px solid var(--_rule); border-radius: var(--_radius); background: var(--_panel); padding: 6px 10px; }
.hindering span { flex: 1; display: grid; gap: 1px; }
.hindering small { color: var(--_faint); }

.state {
  position: absolute; inset: 0; display: grid; place-content: center; justify-items: center; gap: 10px; text-align: center;
  padding: 24px; background: var(--_paper); z-index: 2;
}
.state.over { inset-block: 70px 0; background: none; pointer-events: none; z-index: 1; }
.state.over > * { pointer-events: auto; }
.state p { margin: 0; max-inline-size: 60ch; color: var(--_faint); }
.state .what { font-weight: 600; font-size: 15px; color: var(--_ink); }
.state progress { inline-size: 260px; block-size: 6px; accent-color: var(--_on); }
${areaStyles}

:is(input, button, select):focus-visible { outline: 2px solid var(--_selected-mark); outline-offset: 1px; }
.quiet { position: absolute; inline-size: 1px; block-size: 1px; overflow: clip; clip-path: inset(50%); white-space: nowrap; }
@media (forced-colors: active) {
  .row.selected { outline: 2px solid Highlight; outline-offset: -2px; }
  :is(.cell, .groupcell):focus-visible, :is(.holding, .by-keys) :is(.cell, .groupcell):focus { outline: 3px solid Highlight; outline-offset: -3px; }
  .box[aria-checked='true'] { forced-color-adjust: none; background: Highlight; }
  .badge::before { forced-color-adjust: none; background: CanvasText; }
  .bar-in-cell { forced-color-adjust: none; background: none; border: 1px solid CanvasText; }
  .check[data-state]::after { border-color: CanvasText; }
  .whole { border: 1px solid CanvasText; }
  .strip input:focus { outline: 2px solid Highlight; outline-offset: -2px; }
  .strip .cell.asks { outline: 1px solid Highlight; outline-offset: -1px; }
  .strip input[aria-invalid='true'] { text-decoration: underline wavy; }
  .hint, .chip, .trail .step { border: 1px solid CanvasText; }
  .cell[data-range] { outline: 2px solid Highlight; outline-offset: -2px; }
  .row.group, .row.totals { border-block-end: 2px solid CanvasText; }
  .row.group::before { forced-color-adjust: none; background: CanvasText; }
  ::highlight(meadow-found) { background-color: Highlight; color: HighlightText; }
  .cell.found-beyond { border-inline-end: 4px solid Highlight; }
}
.whole {
  border: 0; max-inline-size: min(420px, calc(100% - 16px)); padding: 5px 9px; border-radius: var(--_radius);
  background: var(--_ink); color: var(--_paper); font-size: 12.5px; line-height: 1.4; white-space: pre-wrap; overflow-wrap: anywhere;
  overflow: clip; pointer-events: none; box-shadow: 0 8px 22px -12px #000a;
}
.pages { display: flex; flex-wrap: wrap; align-items: center; gap: 4px; margin-inline-start: auto; max-inline-size: 100%; }
.pages label { display: inline-flex; align-items: center; gap: 5px; color: var(--_faint); white-space: nowrap; }
.pages .sizes { margin-inline-end: 10px; }
.pages input, .pages select {
  border: 1px solid var(--_rule); border-radius: 5px; background: var(--_paper); color: var(--_ink); padding: 2px 5px; font: inherit; text-align: center;
}
.turn { padding: 1px 8px 3px; line-height: 1.3; }
.absent { color: var(--_held); font-style: italic; }
.fold { display: none; }
.confirm {
  border: 1px solid var(--_rule); border-radius: 10px; background: var(--_paper); color: var(--_ink); padding: 18px 20px; max-inline-size: min(420px, 90vw);
  box-shadow: 0 24px 60px -24px #000a;
}
.confirm::backdrop { background: #1117; }
.confirm p { margin: 0 0 16px; font-size: 14px; line-height: 1.45; }
.confirm .choices { display: flex; gap: 8px; justify-content: flex-end; }
.button.strong { background: var(--_ink); color: var(--_paper); border-color: var(--_ink); }
@container (max-width: 700px) {
  .trail:not([hidden]) { order: 8; flex-basis: 100%; }
}
@container (max-width: 900px) {
  .chips:not(:empty) { order: 9; flex-basis: 100%; }
}
@container (max-width: 520px) {
  .batch { order: 10; flex-basis: 100%; }
  .fold:not([hidden]) { display: inline-block; }
  .chips { order: 9; flex-basis: 100%; }
  .chips:not(.open) { display: none; }
  .bar:has(> .tools > :not([hidden]) ~ :not([hidden])) {
    > .more { display: inline-block; }
    > .tools { order: 8; flex-basis: 100%; }
    > .tools:not(.open) { display: none; }
  }
  .foot { gap: 4px 12px; white-space: normal; }
  .pages { margin-inline-start: 0; flex-wrap: wrap; }
  .pages .sizes { flex-basis: 100%; }
}
@media (pointer: coarse) {
  .row { -webkit-touch-callout: none; user-select: none; }
  .row.detail { -webkit-touch-callout: default; user-select: auto; }
  .button, .offer, .chip button, .act, .pages input, .pages select { min-block-size: 44px; }
  .foot .count .span { min-block-size: 44px; }
  .turn { min-inline-size: 44px; }
  .act { padding-inline: 14px; }
  .cell:has(> .box), .cell:has(> .opener) { cursor: pointer; }
  .grip { inline-size: 22px; }
  .more-of { opacity: 1; inline-size: 32px; inset-block: 3px; }
  .cell-menu button { min-block-size: 44px; }
}

`

/** One style sheet for all grids of a document. */
export const gridSheet = (document: Document): CSSStyleSheet => sharedSheet(document, styles)
