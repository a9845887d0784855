import type { Encoding } from '../../read/bytes/encoding.ts'
import type { Fault, FileFormat, ReadReport } from '../../read/read-report.ts'
import type { ColumnReading } from '../../read/types/column-reading.ts'
import type { TextStyle } from '../../read/types/text-style.ts'
import { COLUMNS, countIn, ROWS, VALUES } from './counts.ts'
import { FIELD_TYPES } from './problems.ts'

export const formats: Readonly<Record<FileFormat | 'rows', string>> = {
  csv: 'نص مفصول',
  json: 'JSON',
  ndjson: 'JSON سطرًا سطرًا',
  arrow: 'Apache Arrow',
  parquet: 'Apache Parquet',
  rows: 'كائنات صفوف',
}

export const encodings: Readonly<Record<Encoding, string>> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16 (little-endian)',
  'utf-16be': 'UTF-16 (big-endian)',
  'windows-1252': 'Windows-1252',
}

const DELIMITERS: Readonly<Record<string, string>> = {
  ',': 'فواصل',
  ';': 'فواصل منقوطة',
  '\t': 'علامات جدولة',
  '|': 'خطوط عمودية',
  ' ': 'مسافات',
}
const LINES = {
  one: 'سطر واحد',
  two: 'سطران',
  few: '# أسطر',
  many: '# سطرًا',
  other: '# سطر',
} as const

export function style({ type, decimal, thousands, dateOrder, separator }: TextStyle): string {
  const parts: string[] = [FIELD_TYPES[type]]
  if (decimal === ',') parts.push('فاصلة عشرية')
  if (thousands) parts.push(`الآلاف مفصولة بـ ${thousands === ' ' ? 'مسافة' : thousands}`)
  if (dateOrder && dateOrder !== 'ymd') parts.push(dateOrder === 'dmy' ? 'اليوم أولًا' : 'الشهر أولًا')
  if (separator) parts.push(`مفصولة بـ ${separator}`)
  return parts.join('، ')
}

export function general(report: ReadReport): string[] {
  const lost = report.columns.flatMap(column => [...losses(column)])
  return [how(report), ...skipped(report), ...report.faults.map(fault), ...lost]
}

function how({ format, gzip, encoding, byteOrderMark, csv, json }: ReadReport): string {
  const parts = [`قُرئ على أنه ${formats[format]}${gzip ? '، مضغوطًا بـ gzip' : ''}`]
  if (encoding) parts.push(`بترميز ${encodings[encoding]}${byteOrderMark ? ' مع علامة ترتيب البايتات' : ''}`)
  if (csv) {
    parts.push(`تفصل بين الحقول ${DELIMITERS[csv.delimiter] ?? `«${csv.delimiter}»`}`)
    parts.push(csv.header ? 'يسمّي السطر الأول الأعمدة' : 'بلا سطر عناوين')
  }
  if (json?.rowsPath) parts.push(`الصفوف عند ${json.rowsPath}`)
  if (json?.header) parts.push('يسمّي الصف الأول الأعمدة')
  return `${parts.join('، ')}.`
}

function* skipped({ csv, json, notUtf8Line }: ReadReport): Iterable<string> {
  if (notUtf8Line !== null)
    yield `السطر ${notUtf8Line} ليس بترميز UTF-8، فقُرئ الملف على أنه Windows-1252. اختر الترميز إن بدت الحروف خاطئة.`
  if (json?.total)
    yield `يذكر المستند أن الصفوف كلها: ${countIn(json.total.rows, ROWS)}، عند ${json.total.path}.`
  if (!csv) return
  if (csv.delimiterLine) yield 'يسمّي السطر الأول الفاصل، وليس صفًا.'
  if (csv.blankLines > 0) yield `أسطر فارغة جرى تخطيها: ${countIn(csv.blankLines, LINES)}.`
  if (csv.commentLines > 0) yield `أسطر تعليق جرى تخطيها: ${countIn(csv.commentLines, LINES)}.`
  if (csv.renamed.length > 0) yield `الأعمدة التي لا اسم لها سُمّيت ${firstOf(csv.renamed)}.`
}

/** Names that are listed. */
const LISTED = 5

function firstOf(names: readonly string[]): string {
  const listed = names.slice(0, LISTED).join('، ')
  return names.length > LISTED ? `${listed} وهكذا، وعددها ${names.length}` : listed
}

function fault({ code, count, examples }: Fault): string {
  const lines = examples.map(({ line }) => line)
  const more = count > lines.length ? '، …' : ''
  const where = lines.length === 0 ? '' : ` (السطر ${lines.join('، ')}${more})`
  const said = `${examples.map(({ line, text }) => `السطر ${line}: ${text}`).join('، ')}${more}`
  switch (code) {
    case 'ragged':
      return `أسطر لا تساوي حقولها حقول الأول: ${countIn(count, LINES)} (${said}). القصيرة تُكمَل بقيم ناقصة، والطويلة تضيف أعمدة.`
    case 'over-wide':
      return `أسطر حقولها أكثر من حقول الأول بكثير: ${countIn(count, LINES)} (${said})؛ الزائد مجموع في العمود الأخير كما هو.`
    case 'cut-character':
      return `ينتهي الملف وسط حرف${where}، ويظهر \ufffd. تحقق من أنه وصل كاملًا.`
    case 'nul':
      return `حروف NUL: ‏${count}${where}؛ بقيت كما هي.`
    case 'stray-quote':
      return `حقول تتابع بعد علامة الاقتباس الخاتمة: ${count}${where}؛ بقيت كما هي.`
    case 'not-json':
      return `صفوف ليست JSON${where} فتُركت: ${countIn(count, ROWS)}.`
    case 'not-a-row':
      return `قيم ليست كائنًا ولا قائمة${where} فتُركت: ${countIn(count, VALUES)}.`
    case 'behind':
      return `بعد المستند شيء آخر${where}: «${examples[0]?.text.slice(0, 30) ?? ''}». لا يُقرأ؛ اجعل لكل مستند سطرًا أو ملفًا.`
    case 'cut-off':
      return `ينتهي الملف وسط صف${where}؛ الصفوف التي قبله موجودة.`
    case 'commas':
      return `فواصل بين الصفوف ناقصة أو زائدة: ${count}${where}؛ الصفوف كلها موجودة.`
    case 'doubled-key':
      return `قيم أُعطيت مرة ثانية في الصف نفسه فتُركت: ${countIn(count, VALUES)}.`
    case 'unread-column':
      return `أعمدة لا تُقرأ فتُركت: ${countIn(count, COLUMNS)}: ${examples.map(({ text }) => text).join('؛ ')}${more}.`
  }
}

function* losses({ key, notNumbers = 0, finer = 0 }: ColumnReading): Iterable<string> {
  if (notNumbers > 0)
    yield `${key}: قيم تقول إنها ليست عددًا (NaN) فتُعدّ ناقصة: ${countIn(notNumbers, VALUES)}.`
  if (finer > 0) yield `${key}: أوقات أدق من الملّي ثانية فقُصّت إليها: ${countIn(finer, VALUES)}.`
}

export const ofColumns = (report: ReadReport): string[] =>
  report.columns.flatMap(column => [...ofColumn(column)])

function* ofColumn({ key, style: read, likely, ambiguous, misfits, asked, type }: ColumnReading) {
  const examples = misfits.examples
    .map(({ row, text }) => `«${text.slice(0, 40)}» في الصف ${row + 1}`)
    .join('، ')
  const values = countIn(misfits.count, VALUES)
  if (asked && misfits.count > 0)
    yield `${key}: قيم ليست ${FIELD_TYPES[type]} فصارت ناقصة: ${values} (${examples}).`
  else if (likely && misfits.count > 0)
    yield `${key} نص، لأن فيه قيمًا ليست ${style(likely)}: ${values} (${examples}).`
  if (ambiguous && read) yield `${key} قُرئ على أنه ${style(read)}؛ ويصلح أيضًا ${style(ambiguous)}.`
}
