import type { CalendarUnit, ConditionWords } from '../../condition/kinds/kind.ts'
import type { ArrangementSpeaker } from '../difference-text.ts'
import type { DifferenceFacts } from '../../definition/differences.ts'
import type { LinkProblem } from '../../definition/arrangement-link.ts'
import type { LeftOut } from '../../definition/merge-arrangement.ts'
import type { SummaryKind } from '../../summary/summary.ts'
import type { PluralForms } from '../plural.ts'
import { COLUMNS, countIn, ROWS } from './counts.ts'

const NEAR_DAYS = { this: 'اليوم', last: 'أمس', next: 'غدًا' } as const

/** One unit of the calendar, which one it is, and several of them. */
const UNITS: Readonly<
  Record<CalendarUnit, { readonly this: string; last: string; next: string; many: PluralForms }>
> = {
  day: {
    this: 'هذا اليوم',
    last: 'اليوم الماضي',
    next: 'اليوم القادم',
    many: { two: 'يومين', few: '# أيام', many: '# يومًا', other: '# يوم' },
  },
  week: {
    this: 'هذا الأسبوع',
    last: 'الأسبوع الماضي',
    next: 'الأسبوع القادم',
    many: { two: 'أسبوعين', few: '# أسابيع', many: '# أسبوعًا', other: '# أسبوع' },
  },
  month: {
    this: 'هذا الشهر',
    last: 'الشهر الماضي',
    next: 'الشهر القادم',
    many: { two: 'شهرين', few: '# أشهر', many: '# شهرًا', other: '# شهر' },
  },
  quarter: {
    this: 'هذا الربع',
    last: 'الربع الماضي',
    next: 'الربع القادم',
    many: { two: 'ربعين', few: '# أرباع', many: '# ربعًا', other: '# ربع' },
  },
  year: {
    this: 'هذه السنة',
    last: 'السنة الماضية',
    next: 'السنة القادمة',
    many: { two: 'سنتين', few: '# سنوات', many: '# سنة', other: '# سنة' },
  },
}
const SPANS = { this: 'خلال', last: 'آخر', next: 'خلال الـ' } as const

export const conditions: Omit<ConditionWords, 'own'> = {
  and: 'و',
  or: 'أو',
  more: count => `${count} أخرى`,
  contains: text => `يحتوي على ${text}`,
  excludes: text => `لا يحتوي على ${text}`,
  starts: text => `يبدأ بـ ${text}`,
  ends: text => `ينتهي بـ ${text}`,
  equals: text => `يساوي ${text}`,
  differs: text => `لا يساوي ${text}`,
  pattern: text => `يطابق ${text}`,
  exactly: text => `${text}، مع مراعاة حالة الأحرف والتشكيل`,
  above: text => `أكبر من ${text}`,
  atLeast: text => `${text} على الأقل`,
  below: text => `أصغر من ${text}`,
  atMost: text => `${text} على الأكثر`,
  between: (from, to) => `من ${from} إلى ${to}`,
  relative(which, unit, count) {
    if (unit === 'day' && count === 0) return NEAR_DAYS[which]
    const words = UNITS[unit]
    if (count <= 1) return words[which]
    const several = countIn(count, words.many)
    return which === 'next' ? `${several} قادمة` : `${SPANS[which]} ${several}`
  },
  noneOf: texts => `ليس ${texts}`,
  allOf: texts => texts,
  missing: 'بلا قيمة',
  present: 'له قيمة',
}

export const summaries: Readonly<Record<SummaryKind, string>> = {
  count: 'الصفوف',
  present: 'القيم',
  missing: 'الناقصة',
  distinct: 'القيم المختلفة',
  sum: 'المجموع',
  mean: 'المتوسط',
  minimum: 'الأدنى',
  maximum: 'الأقصى',
  range: 'المدى',
  median: 'الوسيط',
  quantile: 'الكميّة',
  deviation: 'الانحراف المعياري',
  first: 'الأول',
  last: 'الأخير',
  frequent: 'الأكثر تكرارًا',
  same: 'إن كانت كلها متساوية',
  share: 'الحصة من الكل',
  'share-of-parent': 'الحصة من المجموعة الأعلى',
  expression: 'تعبير',
  own: 'ملخص خاص',
}

const DIRECTIONS = { ascending: 'تصاعديًا', descending: 'تنازليًا' } as const
/** Columns named one by one up to here; beyond, they are counted. */
const NAMED = 4

export function difference(facts: DifferenceFacts, speaker: ArrangementSpeaker): string {
  const named = (columns: readonly string[]): string =>
    columns.length > NAMED ? countIn(columns.length, COLUMNS) : columns.map(speaker.titleOf).join('، ')
  switch (facts.code) {
    case 'moved':
      return `تغيّر موضع ${named(facts.columns)}`
    case 'hidden':
      return `أُخفي: ${named(facts.columns)}`
    case 'shown':
      return `أُظهر: ${named(facts.columns)}`
    case 'pinned': {
      const how = { start: 'ثُبّت في البداية', middle: 'أُلغي تثبيت', end: 'ثُبّت في النهاية' }
      return `${how[facts.part]}: ${named(facts.columns)}`
    }
    case 'width': {
      if (facts.columns.length > 1) return `عُرض مختلف: ${named(facts.columns)}`
      const how = facts.width === null ? 'كما كان في البداية' : `${facts.width} px`
      return `عرض ${named(facts.columns)}: ${how}`
    }
    case 'order': {
      const keys = facts.order.map(
        ({ column, direction }) => `${speaker.titleOf(column)} ${DIRECTIONS[direction]}`,
      )
      return keys.length === 0 ? 'بلا ترتيب' : `مرتّب حسب ${keys.join('، ثم ')}`
    }
    case 'condition': {
      const title = speaker.titleOf(facts.column)
      if (!facts.condition) return `لا شرط على ${title}`
      return `فقط الصفوف التي فيها ${title} ${speaker.condition(facts.column, facts.condition)}`
    }
    case 'where':
      return facts.where.trim() ? `فقط الصفوف التي يتحقق فيها ${facts.where}` : 'لا تعبير يجب أن تحققه الصفوف'
    case 'search':
      return facts.search.trim() ? `بحث عن «${facts.search}»` : 'بلا بحث'
    case 'groups': {
      const levels = facts.groups.map(speaker.level)
      return levels.length === 0 ? 'بلا تجميع' : `مجمّع حسب ${levels.join('، ثم ')}`
    }
    case 'open':
      return 'مجموعات أخرى مفتوحة'
    case 'summary': {
      const title = speaker.titleOf(facts.column)
      return facts.summary === null ? `لا ملخص لـ ${title}` : `${speaker.summary(facts.summary)} لـ ${title}`
    }
    case 'pinned-rows':
      return facts.count === 0 ? 'لا صفوف مثبّتة' : `مثبّت: ${countIn(facts.count, ROWS)}`
    case 'compared':
      return facts.columns.length === 0
        ? 'لا أعمدة تُقارن'
        : `مقارنة ${facts.columns.map(speaker.titleOf).join(' و')}`
    case 'page-size':
      return facts.pageSize === null
        ? 'عدد صفوف الصفحة كما كان في البداية'
        : `في الصفحة ${countIn(facts.pageSize, ROWS)}`
  }
}

const REASONS: Readonly<Record<LeftOut['code'], string>> = {
  'no-such-column': 'لم يعد هذا العمود موجودًا',
  'not-orderable': 'لم يعد الترتيب حسبه ممكنًا',
  'one-key-only': 'صار الترتيب حسب عمود واحد فقط',
  'not-askable': 'لم يعد السؤال عنه ممكنًا، أو إلا كما في البداية',
  'not-for-type': 'صارت قيمه من نوع آخر',
  'not-groupable': 'لم يعد التجميع حسبه ممكنًا',
  'not-offered': 'لم يعد هذا الملخص متاحًا',
  'not-movable': 'صار ثابتًا في مكانه',
  'stays-together': 'صارت الأعمدة تحت عنوانه متلازمة',
  'not-searchable': 'لم يعد البحث في الجدول ممكنًا',
  'no-such-size': 'لم يعد حجم الصفحة هذا موجودًا',
}

const PARTS: Partial<Record<LeftOut['part'], string>> = {
  order: 'الترتيب',
  conditions: 'الشرط',
  groups: 'التجميع',
  summaries: 'الملخص',
  columns: 'الموضع',
  pinnedStart: 'التثبيت',
  pinnedEnd: 'التثبيت',
  search: 'البحث',
  pageSize: 'حجم الصفحة',
}

export function leftOut({ code, part, column }: LeftOut, titleOf: (column: string) => string): string {
  const of = column === null ? '' : ` لـ «${titleOf(column)}»`
  return `${PARTS[part] ?? part}${of}: تُرك جانبًا، لأنه ${REASONS[code]}.`
}

export function linkProblem({ code, at }: LinkProblem): string {
  switch (code) {
    case 'link-newer':
      return 'الترتيب في هذا الرابط صنعه إصدار أحدث؛ يجب تحديث الصفحة لقراءته.'
    case 'link-too-long':
      return 'ما في هذا الرابط أطول من أن يكون ترتيبًا.'
    case 'link-damaged':
      return 'الترتيب في هذا الرابط تالف أو مقطوع؛ اطلب الرابط من جديد.'
    case 'link-no-arrangement':
      return `ما يحمله هذا الرابط ليس ترتيبًا (${at}).`
  }
}
