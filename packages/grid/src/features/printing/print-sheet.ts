/** Px of a column’s text on paper for each px that it has on the screen, at most. */
const MOST_SCALE = 1
const LEAST_PT = 5.5
const USUAL_PT = 9
/** Room between the margins of a sheet of A4, in px: upright, and lying. */
const UPRIGHT_PX = 700
const LYING_PX = 1020

/** How a table of some width, in px, is laid on paper: the size of its type shrinks as far as it can be read. */
export function printSheet(width: number): string {
  const lies = width > UPRIGHT_PX
  const scale = Math.min(MOST_SCALE, (lies ? LYING_PX : UPRIGHT_PX) / Math.max(1, width))
  const points = Math.max(LEAST_PT, USUAL_PT * scale).toFixed(2)
  return `
@page { size: A4 ${lies ? 'landscape' : 'portrait'}; margin: 14mm 12mm 16mm; @bottom-right { content: counter(page) " / " counter(pages); font: 8pt system-ui, sans-serif; color: #555; } }
html { color-scheme: light; }
body { margin: 0; font: ${points}pt/1.35 system-ui, sans-serif; color: #1d2521; background: #fff; }
h1 { font-size: 14pt; margin: 0 0 2pt; }
.about { margin: 0 0 8pt; color: #555; font-size: 8.5pt; }
table { border-collapse: collapse; inline-size: 100%; table-layout: fixed; }
thead { display: table-header-group; }
th, td { padding: .22em .5em; text-align: start; vertical-align: top; overflow-wrap: anywhere; border-block-end: .5pt solid #ccc; unicode-bidi: plaintext; }
th { border-block-end: 1pt solid #555; font-weight: 600; }
.end { text-align: end; font-variant-numeric: tabular-nums; }
tr { break-inside: avoid; }
tbody.together { break-inside: avoid; }
tr.head { break-after: avoid; }
tr.head > *, tr.totals > * { font-weight: 600; background: #eef2e4; print-color-adjust: exact; }
tr.foot > * { color: #555; }
tr.totals > * { border-block-start: 1pt solid #555; }
`
}
