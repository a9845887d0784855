import type { SourceProblem } from '../../read/source-problem.ts'
import type { ReadProblem } from '../../read/read-report.ts'
import type { SourceRemark } from '../../question/source-remark.ts'
import { FIELD_TYPES } from './problems.ts'

const CANNOT = {
  search: () => 'البحث',
  order: () => 'الترتيب حسب هذا',
  groups: () => 'التجميع على هذا النحو',
  condition: (column: string) => `حصر «${column}» على هذا النحو`,
}

const megabytes = (bytes: number): string => `${Math.ceil(bytes / 2 ** 20)} MB`

export function sourceProblem(problem: SourceProblem): string {
  switch (problem.code) {
    case 'recipe-not-valid':
      return `وصفة الصفوف المصنوعة غير صحيحة عند ${problem.path || 'بدايتها'}: ${problem.reason}`
    case 'no-such-source':
      return `لا تأتي صفوف من مصدر نوعه «${problem.kind}». أعطِ قائمة صفوف، أو مصدرًا لك فيه view وask، أو أحد الأنواع ${problem.kinds.join('، ')}.`
    case 'service-not-reached':
      return `تعذّر الوصول إلى ${problem.service} ‏(${problem.reason}).`
    case 'service-refused': {
      const said = problem.reason === '' ? '' : ` تقول: ${problem.reason}`
      if (problem.status === 401 || problem.status === 403)
        return `تريد ${problem.service} أن تعرف من يسأل. سجّل الدخول، ثم اسأل من جديد.${said}`
      return `أجابت ${problem.service} بالحالة ${problem.status}.${said}`
    }
    case 'service-unreadable':
      return `ما تجيب به ${problem.service} عن ${problem.what} ليس ما يريده OData.`
    case 'service-has-no-such-rows': {
      const have = problem.names.length === 0 ? 'لا شيء' : problem.names.slice(0, 8).join('، ')
      return `ليس في ${problem.service} مجموعة كيانات «${problem.rows}». فيها: ${have}.`
    }
    case 'listing-unreadable':
      return `أجابت ${problem.service} بلا قائمة صفوف عند «${problem.pointer}». حدّد مكانها في الجواب (rows).`
    case 'listing-without-key':
      return `ليس في صفوف ${problem.service} حقل «${problem.key}» الذي يسمّيها. حدّد الحقول التي تسمّيها (key).`
    case 'listing-parts-alike':
      return `تجيب ${problem.service} بالصفوف نفسها أيًّا كان الجزء المطلوب: لا أثر لـ ${problem.parameters.join(' و')}. حدّد المعاملات التي تطلب جزءًا (page).`
    case 'listing-not-of-type':
      return `«${problem.text}» في الحقل «${problem.field}» ليس من نوع ${FIELD_TYPES[problem.type]}، ويُعدّ ناقصًا. حدّد نوع الحقل (fields).`
    case 'near-too-many':
      return `لا تستطيع ${problem.service} ${CANNOT[problem.what](problem.column)}، وعدد الصفوف ${problem.rows.toLocaleString('ar')} يفوق ${problem.most.toLocaleString('ar')} التي تتولاها الصفحة بنفسها. احصرها أولًا.`
    case 'service-rows-moved':
      return `تغيّرت صفوف الخدمة في ${problem.service} أثناء قراءتها: جاء صف مرتين. طُلب ما يظهر من جديد.`
    case 'service-too-many-rows':
      return `الصفوف عند ${problem.service}، ولا يمكن اختيار أكثر من ${problem.most} منها واحدًا واحدًا. اختر أقل، أو كل ما يجتاز.`
    case 'service-too-many-groups':
      return `المجموعات أكثر من ${problem.most}. جمّع حسب عمود قيمه أقل، أو حسب مجالات.`
    case 'service-too-many-kept':
      return `تبقى أكثر من ${problem.most} مجموعة ويسقط أكثر من ${problem.most}، ولا يمكن سؤال ${problem.service} عن هذا العدد بأسمائه. أبقِ أقل، كالأولى منها فقط.`
    case 'failed':
      return `تعذّرت قراءة الصفوف: ${problem.reason}`
    default:
      return readProblem(problem)
  }
}

export function remark(told: SourceRemark): string {
  switch (told.code) {
    case 'made-up':
      return 'الصفوف مصنوعة من وصفة.'
    case 'computed':
      return 'تُحسب الصفوف من أرقامها، فلا يمكن ترتيبها ولا حصرها ولا البحث فيها ولا تجميعها.'
    case 'grown':
      return `الصفوف من ${told.rows + 1} فصاعدًا مصنوعة: صفوف كاملة مأخوذة من أول ${told.rows}، وهي تتبع توزيعها.`
    case 'other-type':
      return `قُرئ «${told.field}» في أول ${told.rows} صف من نوع ${FIELD_TYPES[told.first]}، وهو بحسب الصفوف كلها من نوع ${FIELD_TYPES[told.type]}.`
    case 'parts-in-page':
      return `يعمل المحرك في الصفحة، لأن شروطك أو ملخصاتك الخاصة (${told.names.join('، ')}) تحتاج إلى عامل خاص بك يسلّمها إلى serveEngine.`
    case 'no-worker':
      return `يعمل المحرك في الصفحة، لأن عامله لم يمكن تشغيله: ${told.reason}`
    case 'all-fetched':
      return `جُلبت الصفوف كلها (${told.rows})، فتتولى الصفحة كل شيء فيها.`
    case 'left-out':
      return `تُركت لأن لا خلية تستطيع عرضها: ${told.names.join('، ')}.`
    case 'broken-off':
      return `تعذّر الحصول على صفوف أخرى: ${told.reason}`
  }
}

export function readProblem(problem: ReadProblem): string {
  switch (problem.code) {
    case 'empty':
      return 'لا شيء فيه. يلزم سطر عناوين على الأقل، أو صف واحد.'
    case 'web-page':
      return 'هذه صفحة ويب وليست ملف صفوف: ربما كان عنوانها خاطئًا، أو ليس الملف هناك. اختر صيغته إن كان هو المقصود.'
    case 'not-text': {
      const byte = problem.byte === 0 ? 'بايت NUL' : `البايت ${problem.byte}`
      return `في السطر ${problem.line} ‏${byte}، فليس هذا ملفًا نصيًا. إن كان من جدول حسابات فاحفظه هناك بصيغة CSV وترميز UTF-8.`
    }
    case 'not-utf8':
      return `السطر ${problem.line} ليس نصًا بترميز UTF-8. اختر ترميزه، أو احفظه بترميز UTF-8.`
    case 'unclosed-quote':
      return `علامة الاقتباس المفتوحة في السطر ${problem.line} لا تُغلق أبدًا. أغلقها، أو ضاعفها إن كانت من النص.`
    case 'not-a-mark':
      return problem.what === 'delimiter'
        ? `لا يصلح ${JSON.stringify(problem.given)} فاصلًا: الفاصل حرف واحد، وليس علامة اقتباس ولا نهاية سطر. اختر غيره، أو دعه يُكتشف.`
        : `لا يصلح ${JSON.stringify(problem.given)} بدايةً لأسطر التعليق: هي حرف واحد غير الفاصل، وليس علامة اقتباس ولا نهاية سطر.`
    case 'too-uneven':
      return `تختلف حقول الصفوف حتى إن الجدول يحتاج نحو ${megabytes(problem.needBytes)} لنص حجمه ${megabytes(problem.readBytes)}، أكثره فارغ. تحقق من الفاصل، ومن علامات الاقتباس، ومن أن مفاتيح الكائنات ليست قيمًا.`
    case 'too-many-fields':
      return `في السطر ${problem.line} عدد حقول ${problem.fields}؛ ولا يُقرأ أكثر من ${problem.most}. تحقق من الفاصل، أو من أن مفاتيح الكائنات ليست قيمًا.`
    case 'not-json': {
      const found = problem.found === '' ? 'ينتهي النص' : `يقع «${problem.found}»`
      return `في السطر ${problem.line}، العمود ${problem.column}: ${found} حيث لا يتابع JSON هكذا. تحقق مما كتب الملف.`
    }
    case 'no-rows': {
      if (problem.lists.length === 0) return 'لا قائمة في المستند، فلا صفوف فيه.'
      const lists = problem.lists.map(path => path || 'المستند نفسه').join('، ')
      return `لا قائمة صفوف عند «${problem.rowsPath}». القوائم عند: ${lists}.`
    }
    case 'not-rows':
      return `القائمة ${problem.rowsPath ? `عند «${problem.rowsPath}» ` : ''}بلا صفوف: في السطر ${problem.line} «${problem.text.slice(0, 30)}»، وليس كائنًا ولا قائمة.`
    case 'row-too-long':
      return `الصف في السطر ${problem.line} أطول من ${megabytes(problem.mostBytes)}. تحقق من إغلاق الأقواس وعلامات الاقتباس.`
    case 'too-large':
      return `يحتاج الجدول نحو ${megabytes(problem.needBytes)} من الذاكرة؛ والمسموح هنا ${megabytes(problem.allowedBytes)}. خذ أعمدة أو صفوفًا أقل، أو دع خدمة تجيب بأجزاء منه.`
    case 'encrypted':
      return `هذا الملف بصيغة ${problem.format} مشفّر، ولا يُقرأ هنا. اكتبه بلا تشفير، أو دع خدمة معها المفتاح تجيب بالصفوف.`
    case 'no-decoder':
      return `تعذّر تحميل الجزء الذي يقرأ ملفات ${problem.format}: ${problem.reason}. هو ملف مستقل بجانب المحرك؛ والنسخة القائمة بذاتها تخلو منه. أعطِ الصفوف بصيغة JSON أو نصًا مفصولًا، أو استعمل الحزم.`
    case 'damaged':
      return `لا يمكن قراءة ملف ${problem.format}: ${problem.reason}. تحقق من أنه كامل.`
  }
}
