import type { CheckProblem } from '../../check/check-problem.ts'
import type { PartProblem } from '../../condition/kinds/kind.ts'
import type { PhraseProblem } from '../../condition/phrase.ts'
import type { ExpressionProblem, ValueType } from '../../expression/problem.ts'
import type { Refusal } from '../../question/abilities.ts'
import type { FieldType } from '../../table/column.ts'
import { countIn } from './counts.ts'

const list = (names: readonly string[]): string => names.map(name => `«${name}»`).join(' و')
const meant = (nearest: string | null): string => (nearest === null ? '' : ` هل المقصود «${nearest}»؟`)

const CELLS: Readonly<Record<FieldType, string>> = {
  integer: 'عددًا',
  number: 'عددًا',
  boolean: 'نعم أو لا',
  date: 'يومًا مثل 2026-04-30',
  time: 'وقتًا مثل 14:05',
  datetime: 'يومًا ووقتًا مثل 2026-04-30 14:05',
  tags: 'قائمة كلمات',
  text: 'نصًا',
}
const CHARACTERS = {
  characters: { one: 'حرف واحد', two: 'حرفان', few: '# أحرف', many: '# حرفًا', other: '# حرف' },
  tags: { one: 'وسم واحد', two: 'وسمان', few: '# وسوم', many: '# وسمًا', other: '# وسم' },
} as const

export function checkProblem(problem: CheckProblem): string {
  switch (problem.code) {
    case 'not-of-type':
      return `«${problem.text}» ليس ${CELLS[problem.type]}.`
    case 'too-many-digits':
      return `في «${problem.text}» أرقام أكثر مما يميّزه هذا العمود.`
    case 'required':
      return 'لا بد من قيمة هنا.'
    case 'not-whole':
      return 'لا تُقبل هنا إلا الأعداد الصحيحة.'
    case 'below-least':
      return `يجب ألا يقل عن ${problem.least}.`
    case 'above-most':
      return `يجب ألا يزيد على ${problem.most}.`
    case 'too-short':
      return `الحد الأدنى: ${countIn(problem.shortest, CHARACTERS[problem.of])}.`
    case 'too-long':
      return `الحد الأقصى: ${countIn(problem.longest, CHARACTERS[problem.of])}.`
    case 'not-a-choice':
      return 'ليس من الخيارات.'
    case 'not-a-choice-beside':
      return `«${problem.column}» ليس من الخيارات مع ${list(problem.beside)}.`
    case 'not-unique':
      return 'لصف آخر القيمة نفسها، ولا يجوز ذلك.'
    case 'not-matching':
      return problem.says ?? `لا يطابق ${problem.pattern}.`
    case 'not-holding':
      return problem.says ?? `«${problem.expression}» لا يتحقق.`
    case 'check-failed':
      return `تعذّر الفحص: ${problem.reason}.`
    case 'said':
      return problem.text
  }
}

const TYPES: Readonly<Record<ValueType, string>> = {
  text: 'نص',
  number: 'عدد',
  boolean: 'نعم أو لا',
  date: 'تاريخ',
  time: 'وقت',
  datetime: 'تاريخ ووقت',
  duration: 'مدة',
  tags: 'وسوم',
  list: 'قائمة',
  nothing: 'null',
}

export const type = (given: ValueType): string => TYPES[given]
const both = (types: readonly ValueType[]): string => types.map(type).join(' و')
const wantedWords = (wanted: readonly (readonly ValueType[])[]): string =>
  [...new Set(wanted.map(types => (types.length === 0 ? 'لا شيء' : both(types))))].join('، أو ')

export function expressionProblem(problem: ExpressionProblem): string {
  switch (problem.code) {
    case 'not-written-right':
      return problem.found === null ? 'ينتهي التعبير قبل أوانه.' : `لا يمكن أن يقع «${problem.found}» هنا.`
    case 'not-closed':
      return `لم يُغلق «${problem.found}»؛ ينتهي التعبير قبل أوانه.`
    case 'unknown-name':
      return `لا يوجد حقل «${problem.name}».${meant(problem.nearest)}`
    case 'unknown-function':
      return `لا توجد دالة «${problem.name}».${meant(problem.nearest)}`
    case 'wrong-types':
      return problem.given.length === 0
        ? `يحتاج «${problem.name}» إلى: ${wantedWords(problem.wanted)}.`
        : `لا يقبل «${problem.name}»: ${both(problem.given)}؛ بل يقبل: ${wantedWords(problem.wanted)}.`
    case 'branches-differ':
      return `يجب أن يكون طرفا «:» من نوع واحد؛ وهما ${both(problem.given)}.`
    case 'nothing-compared':
      return 'المقارنة مع null لا تتحقق أبدًا. اسأل بـ has(…) هل توجد قيمة.'
    case 'not-readable':
      return problem.what === 'pattern'
        ? `«${problem.text}» ليس نمطًا بصيغة RE2.`
        : `لا يُقرأ «${problem.text}» على أنه ${type(problem.what)}.`
    case 'must-be-written-out':
      return `ما يبحث عنه «${problem.name}» يجب أن يُكتب بين علامتي اقتباس؛ ولا يأتي من حقل.`
    case 'not-in-dialect':
      return `لا يمكن استعمال ${problem.what} هنا.`
    case 'no-such-result':
      return problem.wanted === 'boolean'
        ? `يجب أن تكون النتيجة نعم أو لا؛ وهي ${type(problem.given)}.`
        : `لا يمكن أن تكون النتيجة ${type(problem.given)}.${problem.given === 'duration' ? ' حدّد وحدتها، مثلًا بـ .getHours().' : ''}`
    case 'source-cannot-compute':
      return 'تأتي هذه الصفوف من مصدر لا يستطيع حساب أعمدة.'
    case 'parser-not-there':
      return `لا يمكن قراءة التعابير، لأن الجزء الذي يقرؤها تعذّر تحميله: ${problem.reason}`
    case 'circular':
      return `هذه الأعمدة يُحسب بعضها من بعض: ${problem.names.map(name => `«${name}»`).join('، ')}.`
  }
}

export const FIELD_TYPES: Readonly<Record<FieldType, string>> = {
  text: 'نص',
  integer: 'عدد صحيح',
  number: 'عدد',
  boolean: 'نعم أو لا',
  date: 'تاريخ',
  time: 'وقت',
  datetime: 'تاريخ ووقت',
  tags: 'وسوم',
}

export function partProblem(problem: PartProblem): string {
  switch (problem.code) {
    case 'not-for-type':
      return `لا يُسأل «${problem.kind}» عن عمود من نوع: ${FIELD_TYPES[problem.type]}.`
    case 'not-readable':
      return `«${problem.text}» ليس قيمة من نوع: ${FIELD_TYPES[problem.type]}.`
    case 'not-a-pattern':
      return `«${problem.text}» ليس نمطًا بصيغة RE2.`
    case 'patterns-not-there':
      return 'لا يمكن استعمال الأنماط، لأن الجزء الذي يقرؤها تعذّر تحميله.'
    case 'unknown-kind':
      return `لا يعرف هذا الجدول الشرط «${problem.name}».${meant(problem.nearest)}`
    case 'values-not-valid':
      return `قيم «${problem.name}» غير صحيحة: ${problem.reason}`
    case 'not-in-service':
      return 'يُحسب هذا العمود في الصفحة من صفوف تحفظها خدمة، فلا يمكن سؤالها عنه.'
    case 'threw':
      return `أخفق «${problem.name}»: ${problem.reason}`
  }
}

const EXPECTED: Readonly<Record<FieldType, string>> = {
  text: 'نصًا',
  tags: 'وسمًا',
  boolean: 'نعم أو لا',
  integer: 'عددًا',
  number: 'عددًا',
  date: 'تاريخًا مثل 2024-06-14 أو 2024-06',
  time: 'وقتًا مثل 09:30',
  datetime: 'تاريخًا أو وقتًا مثل 2024-06-14 أو 2024-06-14T09:30',
}

export function phraseProblem(problem: PhraseProblem): string {
  switch (problem.code) {
    case 'not-closed':
      return 'ما يبدأ هنا بعلامة اقتباس لم يُغلق.'
    case 'and-with-or':
      return 'تُربط الأجزاء بـ «and» أو بـ «or»، لا بكليهما.'
    case 'says-nothing':
      return 'ينقص شيء هنا.'
    case 'not-a-value':
      return `«${problem.text}» ليس ${EXPECTED[problem.type]}.`
    case 'turned-round':
      return `يبدأ «${problem.text}» بعد نهايته.`
  }
}

export function refusal(why: Refusal): string {
  switch (why.code) {
    case 'rows-computed':
      return 'تُحسب هذه الصفوف من أرقامها حين يُنظر إليها، فلا يستطيع أحد البحث فيها كلها.'
    case 'service-cannot':
      return `لا تقدّم ${why.service} ذلك.`
  }
}
