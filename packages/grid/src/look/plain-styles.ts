// What plain rows need to look as they do in the grid; the grid's own sheet has these among its rules, in this order.

export const frameStyles = `:host {
  --_paper: var(--meadow-paper, light-dark(#fffefb, #171c19));
  --_panel: var(--meadow-panel, light-dark(#f8f6ec, #1e2421));
  --_ink: var(--meadow-ink, light-dark(#22302b, #e4e8df));
  --_faint: var(--meadow-faint, light-dark(#5a655d, #a3ada3));
  --_rule: var(--meadow-rule, light-dark(#d9d5c3, #39413b));
  --_rule-soft: var(--meadow-rule-soft, light-dark(#ebe8da, #2a312c));
  --_on: var(--meadow-on, light-dark(#2f6b4f, #8cc7a4));
  --_on-tint: var(--meadow-on-tint, light-dark(#e2eddb, #26392d));
  --_on-ink: var(--meadow-on-ink, light-dark(#1f4d37, #b4dcc3));
  --_group: var(--meadow-group, light-dark(#eef2e4, #232c26));
  --_selected: var(--meadow-selected, light-dark(#e6edf6, #233044));
  --_selected-mark: var(--meadow-selected-mark, light-dark(#3f639d, #8fb0e4));
  --_held: var(--meadow-held, light-dark(#b4432a, #ee8f74));
  --_found: var(--meadow-found, light-dark(#f6df9b, #6b5518));
  --_found-ink: var(--meadow-found-ink, light-dark(#2b2310, #fff3cf));
  --_found-edge: light-dark(#d3a02f, #e0b95c);
  --_rank: var(--meadow-rank, light-dark(#22302b, #dfe6dc));
  --_rank-ink: var(--meadow-rank-ink, light-dark(#fffefb, #171c19));
  --_radius: var(--meadow-radius, 6px);
  --_font: var(--meadow-font, inherit);
  --_pad: var(--meadow-cell-padding, 10px);
  --_font-size: var(--meadow-font-size, 13px);
  display: block; block-size: 100%; min-block-size: 120px; min-inline-size: 0;
}
/* What holds for the page's texts is not what cells are made for. */
.meadow {
  text-align: start; text-transform: none; text-indent: 0; letter-spacing: normal; word-spacing: normal; white-space: normal;
  font-style: normal; font-weight: 400; font-variant-caps: normal; text-shadow: none; cursor: auto; user-select: auto; word-break: normal;
}
:host([data-own-height]) { block-size: auto; }
* { box-sizing: border-box; }
[hidden] { display: none !important; }
.meadow {
  block-size: 100%; inline-size: 100%; min-block-size: inherit; flex: 1 1 100%; align-self: stretch; grid-area: 1 / 1 / -1 / -1;
  display: grid; grid-template-rows: auto minmax(0, 1fr) auto;
  background: var(--_paper); color: var(--_ink); font-family: var(--_font); font-size: var(--_font-size); line-height: 1.35;
  font-variant-numeric: tabular-nums; position: relative; overflow: clip; container-type: inline-size;
}
.meadow.by-rows { display: flex; flex-basis: auto; flex-direction: column; block-size: auto; }
.meadow.by-rows > .middle-area { flex: 0 1 auto; min-block-size: 110px; }
.meadow.by-rows > :is(.bar, .foot) { flex: none; }
[data-tone='moss'] { --_tone: var(--_moss); }
[data-tone='poppy'] { --_tone: var(--_poppy); }
[data-tone='straw'] { --_tone: var(--_straw); }
[data-tone='cornflower'] { --_tone: var(--_cornflower); }
[data-tone='heather'] { --_tone: var(--_heather); }
[data-tone='stone'] { --_tone: var(--_stone); }
.bar, .foot { display: flex; align-items: center; gap: 8px; padding: 7px 10px; min-inline-size: 0; }
.bar { border-block-end: 1px solid var(--_rule); flex-wrap: wrap; position: relative; z-index: 3; }
.foot { border-block-start: 2px solid var(--_rule); background: var(--_panel); font-size: 12px; padding-block: 6px; gap: 4px 18px; flex-wrap: wrap; white-space: nowrap; overflow: clip; }
/* As high before it tells anything. */
.foot .count::before { content: '\\200b'; }
input, button { font: inherit; color: inherit; }
.search {
  inline-size: 190px; max-inline-size: 100%; border: 1px solid var(--_rule); border-radius: var(--_radius);
  background: var(--_paper); padding: 4px 10px;
}
@media (pointer: coarse) {
  .search, .foot .count { min-block-size: 44px; }
  .foot .count { align-content: center; }
}
@container (max-width: 520px) { .search { flex: 1 1 120px; } }`

export const rowStyles = `.scroller { overflow: auto; position: relative; overflow-anchor: none; outline: none; min-block-size: 0; }
.scroller.probe { position: absolute; inline-size: 50px; block-size: 50px; overflow: scroll; visibility: hidden; }
.view { position: sticky; inset-block-start: 0; inset-inline-start: 0; contain: strict; overflow: clip; outline: none; background: var(--_paper); }
.head, .body { position: absolute; inset-inline: 0; }
.head { inset-block-start: 0; z-index: 2; background: var(--_panel); }
.body { inset-block-end: 0; overflow: clip; }
.block { position: absolute; inset: 0; will-change: transform; }
.row {
  position: absolute; inset-inline: 0; inset-block-start: 0; contain: strict; overflow: clip; line-height: var(--_row-height);
  --_row: var(--_paper); background: var(--_row); border-block-end: 1px solid var(--_rule-soft);
}
.striped .body .row.odd { --_row: color-mix(in srgb, var(--_panel) 70%, var(--_paper)); }
[data-rules='none'] .body .row { border-block-end-color: transparent; }
[data-rules='both'] .body .cell { border-inline-end: 1px solid var(--_rule-soft); }
.row.selected, .striped .body .row.odd.selected { --_row: var(--_selected); }
.row.pending .cell { color: transparent; }
.row.pending .middle .cell::after {
  content: ''; position: absolute; inset-inline: var(--_pad); inset-block: 38%; border-radius: 3px; background: var(--_rule-soft);
}
.row.group { --_level-mark: color-mix(in srgb, var(--_on) calc(90% - var(--_level, 0) * 30%), var(--_row)); --_row: color-mix(in srgb, var(--_group) calc(100% - var(--_level, 0) * 28%), var(--_paper)); border-block-end-color: var(--_rule); font-weight: 600; }
.part { position: absolute; inset-block: 0; }
.part.start { inset-inline-start: 0; z-index: 1; background: var(--_row); }
.part.start.edged { border-inline-end: 2px solid var(--_rule); }
.part.end { inset-inline-end: 0; z-index: 1; background: var(--_row); }
.part.end.edged::before { content: ''; position: absolute; inset-block: 0; inset-inline-start: -2px; inline-size: 2px; background: var(--_rule); }
.cell {
  position: absolute; inset-block: 0; padding-inline: var(--_pad); overflow: clip; white-space: pre; text-overflow: ellipsis;
  outline: none;
}
.by-content .cell { inset-block-end: auto; block-size: var(--_row-height); }
.by-content .cell.wrap { block-size: auto; min-block-size: var(--_row-height); line-height: 1.4; padding-block: 6px; white-space: pre-wrap; overflow-wrap: anywhere; }
.by-content .cell:focus-visible { inset-block-end: 0; block-size: auto; }
.cell.to-end { text-align: end; }
.cell.to-center { text-align: center; }
/* Among texts that run from right to left, “19 Mar 2020” and “−5” are still read from the left. */
.meadow:dir(rtl) .row .cell { unicode-bidi: plaintext; text-align: right; }
.meadow:dir(rtl) .row .cell.to-end { text-align: left; }
.meadow:dir(rtl) .row .cell.to-center { text-align: center; }`

export const cellStyles = `.box {
  inline-size: 15px; block-size: 15px; border: 1.5px solid var(--_faint); border-radius: 3.5px; display: inline-block;
  vertical-align: middle; cursor: pointer; position: relative; margin-block-start: -2px;
}
.box[aria-checked='true'], .box[aria-checked='mixed'] { background: var(--_selected-mark); border-color: var(--_selected-mark); }
.box[aria-checked='true']::after {
  content: ''; position: absolute; inset-inline-start: 3.5px; inset-block-start: .5px; inline-size: 4px; block-size: 8px;
  border: solid var(--_paper); border-width: 0 2px 2px 0; transform: rotate(42deg);
}
.box[aria-checked='mixed']::after { content: ''; position: absolute; inset: 5px 2.5px; background: var(--_paper); }

.check { display: inline-block; inline-size: 12px; block-size: 12px; position: relative; vertical-align: middle; margin-block-start: -2px; }
.check[data-state='yes']::after {
  content: ''; position: absolute; inset-inline-start: 3px; inset-block-start: -1px; inline-size: 5px; block-size: 10px;
  border: solid var(--_moss); border-width: 0 2px 2px 0; transform: rotate(42deg);
}
.check[data-state='no']::after { content: ''; position: absolute; inset: 5px 2px; border-block-start: 1.5px solid var(--_faint); }
.tag {
  display: inline-block; line-height: 1.45; font-size: .92em; padding-inline: 6px; border-radius: 4px;
  color: color-mix(in srgb, var(--_tone) 80%, var(--_ink)); background: color-mix(in srgb, var(--_tone) 12%, transparent);
}
.link { color: var(--_on-ink); text-decoration: underline; text-decoration-thickness: 1px; text-underline-offset: 2px; outline: none; }
.link:not([href]) { color: inherit; text-decoration: none; }
.link:hover { text-decoration-thickness: 2px; }
.picture { object-fit: cover; border-radius: 3px; vertical-align: middle; margin-block-start: -2px; background: var(--_rule-soft); }
.picture.round { border-radius: 50%; }
.picture.broken { background: none; outline: 1px dashed var(--_faint); outline-offset: -1px; }
/* Its mark stands where lines begin, whatever its text is written in. */
.badge { unicode-bidi: isolate; }
.badge[data-tone='']::before { visibility: hidden; }
.badge:is(.dot, .square)::before {
  content: ''; display: inline-block; inline-size: 8px; block-size: 8px; background: var(--_tone); margin-inline-end: 8px; vertical-align: 0;
}
.badge.dot::before { border-radius: 50%; }
.badge.filled { color: color-mix(in srgb, var(--_tone) 80%, var(--_ink)); background: color-mix(in srgb, var(--_tone) 14%, transparent); padding: 2px 8px; border-radius: 9px; font-weight: 500; }
.badge.filled[data-tone=''] { background: none; }
.bar-in-cell {
  position: absolute; inset-block: 22%; inset-inline: calc(var(--_pad) * .7); border-radius: 2px; transform-origin: left; transform: scaleX(0);
  background: light-dark(oklch(from var(--_tone) .88 calc(c * .55) h), oklch(from var(--_tone) .42 calc(c * .8) h));
}
.bar-in-cell:dir(rtl) { transform-origin: right; }
.figure { position: relative; }`

export const headStyles = `.head .row { --_row: var(--_panel); border-block-end-color: var(--_rule); font-weight: 600; font-size: .96em; overflow: clip; }
.head .cell { user-select: none; display: flex; align-items: center; border-inline-end: 1px solid var(--_rule-soft); }
.head .cell.orderable { cursor: pointer; }
.head .cell.orderable:hover { background: color-mix(in srgb, var(--_ink) 5%, transparent); }
.head .cell.to-end { justify-content: flex-end; }
.head .cell.to-center { justify-content: center; }
.head .title { overflow: clip; text-overflow: ellipsis; min-inline-size: 0; }
.head .row.shared { border-block-end: 0; }
.head .shared .cell { justify-content: center; border-block-end: 1px solid var(--_rule); cursor: grab; font-size: .94em; }
.head .shared .cell { box-shadow: -1px 0 var(--_rule-soft); }
.head .shared .cell:dir(rtl) { box-shadow: 1px 0 var(--_rule-soft); }
.head .shared .cell:hover { background: color-mix(in srgb, var(--_ink) 5%, transparent); }`

export const areaStyles = `/* Lines have no say in how high the grid is: in a place that gives it no height it takes one of its own. */
.middle-area { position: relative; display: grid; grid-template-columns: minmax(0, 1fr) auto; min-block-size: 0; min-inline-size: 0; contain: size; contain-intrinsic-block-size: var(--_own-height, 400px); }`
