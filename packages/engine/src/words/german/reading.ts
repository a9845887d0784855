import type { Encoding } from '../../read/bytes/encoding.ts'
import type { Fault, FileFormat, ReadReport } from '../../read/read-report.ts'
import type { ColumnReading } from '../../read/types/column-reading.ts'
import type { TextStyle } from '../../read/types/text-style.ts'
import { countIn } from './counts.ts'
import { FIELD_TYPES } from './problems.ts'

export const formats: Readonly<Record<FileFormat | 'rows', string>> = {
  csv: 'Text mit Trennzeichen',
  json: 'JSON',
  ndjson: 'JSON, Zeile für Zeile',
  arrow: 'Apache Arrow',
  parquet: 'Apache Parquet',
  rows: 'Zeilenobjekte',
}

export const encodings: Readonly<Record<Encoding, string>> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16, Little Endian',
  'utf-16be': 'UTF-16, Big Endian',
  'windows-1252': 'Windows-1252',
}

const DELIMITERS: Readonly<Record<string, string>> = {
  ',': 'Kommas',
  ';': 'Semikolons',
  '\t': 'Tabulatoren',
  '|': 'senkrechte Striche',
  ' ': 'Leerzeichen',
}

export function style({ type, decimal, thousands, dateOrder, separator }: TextStyle): string {
  const parts: string[] = [FIELD_TYPES[type]]
  if (decimal === ',') parts.push('Dezimalkomma')
  if (thousands) parts.push(`Tausender getrennt durch ${thousands === ' ' ? 'Leerzeichen' : thousands}`)
  if (dateOrder && dateOrder !== 'ymd') parts.push(dateOrder === 'dmy' ? 'Tag zuerst' : 'Monat zuerst')
  if (separator) parts.push(`getrennt durch ${separator}`)
  return parts.join(', ')
}

export function general(report: ReadReport): string[] {
  const lost = report.columns.flatMap(column => [...losses(column)])
  return [how(report), ...skipped(report), ...report.faults.map(fault), ...lost]
}

function how({ format, gzip, encoding, byteOrderMark, csv, json }: ReadReport): string {
  const parts = [`Gelesen als ${formats[format]}${gzip ? ', gepackt mit gzip' : ''}`]
  if (encoding) parts.push(`in ${encodings[encoding]}${byteOrderMark ? ' mit Byte-Reihenfolge-Marke' : ''}`)
  if (csv) {
    parts.push(`Felder getrennt durch ${DELIMITERS[csv.delimiter] ?? `„${csv.delimiter}“`}`)
    parts.push(csv.header ? 'die erste Zeile benennt die Spalten' : 'ohne Kopfzeile')
  }
  if (json?.rowsPath) parts.push(`Zeilen bei ${json.rowsPath}`)
  if (json?.header) parts.push('die erste Zeile benennt die Spalten')
  return `${parts.join(', ')}.`
}

function* skipped({ csv, json, notUtf8Line }: ReadReport): Iterable<string> {
  if (notUtf8Line !== null)
    yield `Zeile ${notUtf8Line} ist kein UTF-8; die Datei wurde deshalb als Windows-1252 gelesen. Wählen Sie die Kodierung, wenn Buchstaben falsch aussehen.`
  if (json?.total) yield `Das Dokument nennt ${json.total.rows} Zeilen insgesamt, bei ${json.total.path}.`
  if (!csv) return
  if (csv.delimiterLine) yield 'Die erste Zeile nennt das Trennzeichen und ist keine Zeile der Tabelle.'
  if (csv.blankLines > 0)
    yield countIn(csv.blankLines, {
      one: '1 leere Zeile wurde übergangen.',
      other: '# leere Zeilen wurden übergangen.',
    })
  if (csv.commentLines > 0)
    yield countIn(csv.commentLines, {
      one: '1 Kommentarzeile wurde übergangen.',
      other: '# Kommentarzeilen wurden übergangen.',
    })
  if (csv.renamed.length > 0) yield `Spalten ohne eigenen Namen heißen ${firstOf(csv.renamed)}.`
}

/** Names that are listed. */
const LISTED = 5

function firstOf(names: readonly string[]): string {
  const listed = names.slice(0, LISTED).join(', ')
  return names.length > LISTED ? `${listed} und so weiter, ${names.length} insgesamt` : listed
}

function fault({ code, count, examples }: Fault): string {
  const lines = examples.map(({ line }) => line)
  const more = count > lines.length ? ', …' : ''
  const where = lines.length === 0 ? '' : ` (Zeile ${lines.join(', ')}${more})`
  const said = `${examples.map(({ line, text }) => `Zeile ${line} hat ${text}`).join(', ')}${more}`
  switch (code) {
    case 'ragged':
      return `${countIn(count, { one: '1 Zeile hat', other: '# Zeilen haben' })} nicht so viele Felder wie die erste (${said}). Kurze sind mit fehlenden Werten aufgefüllt, lange fügen Spalten hinzu.`
    case 'over-wide':
      return `${countIn(count, { one: '1 Zeile hat', other: '# Zeilen haben' })} weit mehr Felder als die erste (${said}); was darüber hinausgeht, steht beisammen in der letzten Spalte.`
    case 'cut-character':
      return `Die Datei endet mitten in einem Zeichen${where}, das als \ufffd zu sehen ist. Prüfen Sie, ob sie ganz ankam.`
    case 'nul':
      return `${countIn(count, { one: '1 Zeichen ist', other: '# Zeichen sind' })} NUL${where}; sie bleiben, wie sie sind.`
    case 'stray-quote':
      return `${countIn(count, { one: '1 Feld geht', other: '# Felder gehen' })} hinter dem schließenden Anführungszeichen weiter${where}; sie bleiben, wie sie sind.`
    case 'not-json':
      return `${countIn(count, { one: '1 Zeile ist', other: '# Zeilen sind' })} kein JSON${where} und weggelassen.`
    case 'not-a-row':
      return `${countIn(count, { one: '1 Wert ist', other: '# Werte sind' })} weder Objekt noch Liste${where} und weggelassen.`
    case 'behind':
      return `Hinter dem Dokument steht noch etwas${where}: „${examples[0]?.text.slice(0, 30) ?? ''}“. Es wird nicht gelesen; geben Sie jedem Dokument eine Zeile oder eine Datei.`
    case 'cut-off':
      return `Die Datei endet mitten in einer Zeile${where}; die Zeilen davor sind hier.`
    case 'commas':
      return `${countIn(count, { one: '1 Komma', other: '# Kommas' })} zwischen Zeilen zu wenig oder zu viel${where}; alle Zeilen sind da.`
    case 'doubled-key':
      return `${countIn(count, { one: '1 Wert war', other: '# Werte waren' })} in derselben Zeile ein zweites Mal gegeben und weggelassen.`
    case 'unread-column':
      return `${countIn(count, { one: '1 Spalte kann', other: '# Spalten können' })} nicht gelesen werden und fehlt: ${examples.map(({ text }) => text).join('; ')}${more}.`
  }
}

function* losses({ key, notNumbers = 0, finer = 0 }: ColumnReading): Iterable<string> {
  if (notNumbers > 0)
    yield `${key}: ${countIn(notNumbers, { one: '1 Wert sagt', other: '# Werte sagen' })}, keine Zahl zu sein (NaN), und gilt als fehlend.`
  if (finer > 0)
    yield `${key}: ${countIn(finer, { one: '1 Zeit ist', other: '# Zeiten sind' })} feiner als Millisekunden angegeben und darauf gekürzt.`
}

export const ofColumns = (report: ReadReport): string[] =>
  report.columns.flatMap(column => [...ofColumn(column)])

function* ofColumn({ key, style: read, likely, ambiguous, misfits, asked, type }: ColumnReading) {
  const examples = misfits.examples
    .map(({ row, text }) => `„${text.slice(0, 40)}“ in Zeile ${row + 1}`)
    .join(', ')
  const values = { one: '1 Wert ist', other: '# Werte sind' }
  if (asked && misfits.count > 0)
    yield `${key}: ${countIn(misfits.count, values)} nicht ${FIELD_TYPES[type]} und gilt als fehlend: ${examples}.`
  else if (likely && misfits.count > 0)
    yield `${key} ist Text, weil ${countIn(misfits.count, { one: '1 Wert', other: '# Werte' })} nicht passt zu: ${style(likely)} (${examples}).`
  if (ambiguous && read) yield `${key} wurde gelesen als ${style(read)}; ${style(ambiguous)} passt ebenso.`
}
