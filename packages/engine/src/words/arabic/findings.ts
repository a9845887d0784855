import type { Finding, Remedy } from '../../definition/findings.ts'
import { kindOf, type Summary } from '../../summary/summary.ts'
import { summaries } from './arrangement.ts'
import { countIn, ROWS, VALUES } from './counts.ts'
import { expressionProblem, FIELD_TYPES } from './problems.ts'
import { style } from './reading.ts'

const list = (names: readonly string[]): string => names.map(name => `«${name}»`).join(' مع ')
const quoted = (examples: readonly string[]): string =>
  examples
    .slice(0, 3)
    .map(text => `«${text.slice(0, 30)}»`)
    .join('، ')
const rows = (count: number): string => countIn(count, ROWS)
const values = (count: number): string => countIn(count, VALUES)

export function finding(found: Finding): string {
  switch (found.code) {
    case 'field-not-in-data':
      return `لا يعرض العمود «${found.key}» شيئًا: ليس في الصفوف حقل كهذا.`
    case 'expression-wrong':
      return `${place(found)} غير موجود: ${expressionProblem(found.problem)}`
    case 'key-not-in-data':
      return `المفتاح ${list(found.fields)} ليس في الصفوف، فلا يمكن تسميتها.`
    case 'key-missing':
      return `صفوف بلا مفتاح، إذ ينقصها ${list(found.fields)}: ${rows(found.rows)}.`
    case 'key-doubled':
      return `صفوف لها مفتاح غيرها: ${rows(found.rows)}؛ ${list(found.fields)} متساوٍ في الصفين ${found.example[0] + 1} و${found.example[1] + 1}.`
    case 'no-key':
      return `ليس للصفوف مفتاح، فيضيع التحديد حين تُستبدل. ${list(found.proposed)} يسمّي كل صف.`
    case 'values-as-text':
      return `«${found.key}» محفوظ نصًا، وكل قيمة فيه ${style(found.style)}؛ والنص يُرتّب حرفًا حرفًا.`
    case 'mixed-types':
      return `«${found.key}» نص بسبب ${values(found.misfits)} (${quoted(found.examples)})؛ وما سواها ${style(found.style)}.`
    case 'asked-type-misfits':
      return `قيم في «${found.key}» لا تُقرأ على أنها ${FIELD_TYPES[found.type]} فتُعدّ ناقصة: ${values(found.misfits)} (${quoted(found.examples)}).`
    case 'ambiguous':
      return `«${found.key}» قُرئ على أنه ${style(found.style)}؛ وكل قيمة قد تكون ${style(found.other)}.`
    case 'texts-like-tags':
      return `«${found.key}» يسرد كلمات تفصلها «${found.separator}» (${quoted(found.examples)})؛ وكل سرد قيمة قائمة بذاتها ما دام نصًا.`
    case 'title-missing':
      return `ليس لعمود «${found.key}» عنوان؛ يرى القرّاء رأسًا فارغًا.`
    case 'detail-column-absent':
      return `يُراد أن تسرد الصفوف المفتوحة «${found.key}»، ولا يوجد عمود كهذا.`
    case 'deletes-without-key':
      return `يُراد أن يُخرج «${found.title}» صفوفًا، ولا شيء يسمّي صفًا: يلزم مفتاح.`
    case 'changes-without-key':
      return `يُراد تغيير خلايا «${found.key}»، ولا شيء يسمّي صفًا: يلزم مفتاح.`
    case 'choices-absent':
      return `يُراد اختيار خلايا «${found.key}» حسب «${found.of}»، ولا يوجد حقل كهذا.`
    case 'title-doubled':
      return `عمودان اسمهما «${found.title}»: عمود «${found.other}» وعمود «${found.key}».`
    case 'width-cuts-off':
      return `يقطع «${found.key}» نسبة ${Math.round(found.share * 100)}٪ من قيمه عند ${found.width} px.`
    case 'format-hides':
      return `يعرض «${found.key}» منازل عشرية عددها ${found.decimals} فتتشابه قيم مختلفة؛ وفي البيانات ${found.needed}.`
    case 'condition-on-hidden':
      return `«${found.key}» مخفي، وشرطه وحده يحجب ${rows(found.rows)}.`
    case 'many-groups':
      return `التجميع حسب «${found.key}» يعطي ${found.groups} مجموعة، وليست أيسر قراءة من الصفوف.`
    case 'group-per-row':
      return `كل صف مجموعة وحده: لـ «${found.key}» قيمة مختلفة في كل من الصفوف (${found.groups}).`
    case 'level-adds-nothing':
      return `المستوى حسب «${found.key}» لا يضيف شيئًا: في كل مجموعة فوقه مجموعة واحدة.`
    case 'summary-senseless':
      return `لا معنى لـ ${summaries[found.summary]} في «${found.key}» الذي قيمه ${FIELD_TYPES[found.type]}؛ لا يُعرض شيء.`
    case 'mean-of-ratio':
      return `متوسط «${found.key}» متوسط نِسَب، يزن فيه الصف الصغير ما يزن الكبير؛ وليس نسبة المجاميع في «${found.expression}».`
    case 'order-refused':
      return `الصفوف مرتبة حسب «${found.key}» الذي لا يقبل الترتيب حسبه: لا يستطيع القرّاء تغيير ذلك.`
    case 'ordered-as-text':
      return `«${found.key}» مرتب حسب ما يظهر، حرفًا حرفًا، مع أن قيمه ${FIELD_TYPES[found.type]}.`
    case 'pattern-slow':
      return `يستغرق النمط على «${found.key}» ‏${found.ms} ms، فيُحَسّ بكل حرف يُكتب. النص العادي أسرع.`
  }
}

function place({ of, key }: Extract<Finding, { code: 'expression-wrong' }>): string {
  if (of === 'style') return `قاعدة النمط ${key}`
  return of === 'column' ? `العمود المحسوب «${key}»` : `شرط إجراء في «${key}»`
}

export function remedy(found: Finding, remedyOf: Remedy): string {
  if (remedyOf.kind === 'read') {
    const { type } = remedyOf.as
    if (!type || type === 'text') return 'إبقاؤه نصًا'
    const kept = found.code === 'ambiguous' && remedyOf.as === found.style
    return `${kept ? 'صحيح: ' : 'قراءته على أنه '}${style({ ...remedyOf.as, type })}`
  }
  if (remedyOf.kind === 'arrange') {
    const { change } = remedyOf
    if (change.hidden) return 'إظهار العمود'
    if (change.groups) return change.groups.length > 0 ? 'إزالة المستوى' : 'بلا تجميع'
    if (change.summaries && 'key' in found) {
      const other = change.summaries[found.key] as Summary | undefined
      return other ? `عرض ${summaries[kindOf(other)]} بدلًا منه` : 'بلا ملخص'
    }
    return change.order ? 'إخراجه من الترتيب' : 'رفع الشرط'
  }
  const { definition } = remedyOf
  switch (found.code) {
    case 'field-not-in-data':
      return definition.columns.some(({ key }) => key === found.nearest)
        ? `عرض «${found.nearest}» بدلًا منه`
        : 'إزالة العمود'
    case 'expression-wrong':
      return found.of === 'column' ? 'إزالة العمود' : 'إزالة القاعدة'
    case 'detail-column-absent':
    case 'choices-absent':
      return 'تركه'
    case 'title-missing':
      return `تسميته «${found.proposed}»`
    case 'title-doubled':
      return `تسميته «${definition.columns.find(({ key }) => key === found.key)?.title}»`
    case 'width-cuts-off':
      return `جعل عرضه ${found.proposed} px`
    case 'order-refused':
      return 'السماح للقرّاء بالترتيب حسبه'
    case 'ordered-as-text':
      return 'الترتيب حسب قيمه'
    case 'format-hides':
      return `عرض منازل عشرية عددها ${found.needed}`
    default:
      return definition.key.length > 0 ? `استعمال ${list(definition.key)}` : 'الاستغناء عن المفتاح'
  }
}
