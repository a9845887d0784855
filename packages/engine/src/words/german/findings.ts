import type { Finding, Remedy } from '../../definition/findings.ts'
import { kindOf, type Summary } from '../../summary/summary.ts'
import { summaries } from './arrangement.ts'
import { countIn } from './counts.ts'
import { expressionProblem, FIELD_TYPES } from './problems.ts'
import { style } from './reading.ts'

const written = (count: number): string => count.toLocaleString('de')
const list = (names: readonly string[]): string => names.map(name => `„${name}“`).join(' mit ')
const quoted = (examples: readonly string[]): string =>
  examples
    .slice(0, 3)
    .map(text => `„${text.slice(0, 30)}“`)
    .join(', ')
const rows = (count: number): string => countIn(count, { one: '1 Zeile', other: '# Zeilen' }, written(count))
const rowsHave = (count: number): string =>
  countIn(count, { one: '1 Zeile hat', other: '# Zeilen haben' }, written(count))
const values = (count: number): string => countIn(count, { one: '1 Wert', other: '# Werte' }, written(count))
const decimals = (count: number): string =>
  countIn(count, { one: '1 Nachkommastelle', other: '# Nachkommastellen' })

export function finding(found: Finding): string {
  switch (found.code) {
    case 'field-not-in-data':
      return `Die Spalte „${found.key}“ zeigt nichts: die Zeilen haben kein solches Feld.`
    case 'expression-wrong':
      return `${place(found)} fehlt: ${expressionProblem(found.problem)}`
    case 'key-not-in-data':
      return `Der Schlüssel ${list(found.fields)} ist nicht in den Zeilen; sie können nicht benannt werden.`
    case 'key-missing':
      return `${rowsHave(found.rows)} keinen Schlüssel: ${list(found.fields)} fehlt dort.`
    case 'key-doubled':
      return `${rowsHave(found.rows)} den Schlüssel einer anderen: ${list(found.fields)} ist gleich in den Zeilen ${found.example[0] + 1} und ${found.example[1] + 1}.`
    case 'no-key':
      return `Zeilen haben keinen Schlüssel; eine Auswahl geht verloren, wenn sie ersetzt werden. ${list(found.proposed)} benennt jede Zeile.`
    case 'values-as-text':
      return `„${found.key}“ wird als Text gehalten, doch jeder Wert sagt ${style(found.style)}; als Text wird Buchstabe für Buchstabe sortiert.`
    case 'mixed-types':
      return `„${found.key}“ ist Text wegen ${values(found.misfits)} (${quoted(found.examples)}); alle anderen sagen ${style(found.style)}.`
    case 'asked-type-misfits':
      return `${values(found.misfits)} von „${found.key}“ (${quoted(found.examples)}): nicht lesbar als ${FIELD_TYPES[found.type]}, und fehlend.`
    case 'ambiguous':
      return `„${found.key}“ wurde gelesen als ${style(found.style)}; jeder Wert könnte ebenso ${style(found.other)} sein.`
    case 'texts-like-tags':
      return `„${found.key}“ zählt Wörter auf, getrennt durch „${found.separator}“ (${quoted(found.examples)}); als Text ist jede Aufzählung ein eigener Wert.`
    case 'title-missing':
      return `Die Spalte von „${found.key}“ hat keinen Titel; ihre Überschrift ist leer.`
    case 'detail-column-absent':
      return `Offene Zeilen sollen „${found.key}“ aufführen, und diese Spalte gibt es nicht.`
    case 'deletes-without-key':
      return `„${found.title}“ soll Zeilen herausnehmen, und nichts benennt eine Zeile: dafür braucht es einen Schlüssel.`
    case 'changes-without-key':
      return `Zellen von „${found.key}“ sollen geändert werden, und nichts benennt eine Zeile: dafür braucht es einen Schlüssel.`
    case 'choices-absent':
      return `Zellen von „${found.key}“ sollen nach „${found.of}“ gewählt werden, und dieses Feld gibt es nicht.`
    case 'title-doubled':
      return `Zwei Spalten heißen „${found.title}“: die von „${found.other}“ und die von „${found.key}“.`
    case 'width-cuts-off':
      return `„${found.key}“ schneidet bei ${found.width} px ${Math.round(found.share * 100)} % der Werte ab.`
    case 'format-hides':
      return `„${found.key}“ zeigt ${decimals(found.decimals)} und macht verschiedene Werte gleich; die Daten haben ${found.needed}.`
    case 'condition-on-hidden':
      return `„${found.key}“ ist ausgeblendet, und die Bedingung darauf hält allein ${rows(found.rows)} zurück.`
    case 'many-groups':
      return `Nach „${found.key}“ gibt es ${written(found.groups)} Gruppen; sie sind nicht leichter zu lesen als die Zeilen.`
    case 'group-per-row':
      return `Jede Zeile ist eine Gruppe für sich: „${found.key}“ hat in jeder der ${written(found.groups)} Zeilen einen anderen Wert.`
    case 'level-adds-nothing':
      return `Die Ebene nach „${found.key}“ trägt nichts bei: jede Gruppe darüber enthält eine.`
    case 'summary-senseless':
      return `${summaries[found.summary]} ergibt für „${found.key}“ keinen Sinn, dessen Werte von der Art ${FIELD_TYPES[found.type]} sind; nichts wird gezeigt.`
    case 'mean-of-ratio':
      return `Der Mittelwert von „${found.key}“ ist ein Mittel von Verhältnissen, in dem eine kleine Zeile so viel zählt wie eine große; er ist nicht das Verhältnis der Summen in „${found.expression}“.`
    case 'order-refused':
      return `Zeilen sind nach „${found.key}“ sortiert, wonach nicht sortiert werden darf: Leser können es nicht ändern.`
    case 'ordered-as-text':
      return `„${found.key}“ ist nach dem sortiert, was zu sehen ist, Buchstabe für Buchstabe, obwohl die Werte von der Art ${FIELD_TYPES[found.type]} sind.`
    case 'pattern-slow':
      return `Das Muster auf „${found.key}“ braucht ${found.ms} ms; jeder getippte Buchstabe ist zu spüren. Ein einfacher Text wird schneller gefunden.`
  }
}

function place({ of, key }: Extract<Finding, { code: 'expression-wrong' }>): string {
  if (of === 'style') return `Die Stilregel ${key}`
  return of === 'column' ? `Die berechnete Spalte „${key}“` : `Die Bedingung einer Aktion in „${key}“`
}

export function remedy(found: Finding, remedyOf: Remedy): string {
  if (remedyOf.kind === 'read') {
    const { type } = remedyOf.as
    if (!type || type === 'text') return 'Als Text behalten'
    const kept = found.code === 'ambiguous' && remedyOf.as === found.style
    return `${kept ? 'Es stimmt: ' : 'Lesen als '}${style({ ...remedyOf.as, type })}`
  }
  if (remedyOf.kind === 'arrange') {
    const { change } = remedyOf
    if (change.hidden) return 'Spalte einblenden'
    if (change.groups) return change.groups.length > 0 ? 'Ebene wegnehmen' : 'Nicht gruppieren'
    if (change.summaries && 'key' in found) {
      const other = change.summaries[found.key] as Summary | undefined
      return other ? `Stattdessen: ${summaries[kindOf(other)]}` : 'Keine Zusammenfassung zeigen'
    }
    return change.order ? 'Aus der Sortierung nehmen' : 'Bedingung aufheben'
  }
  const { definition } = remedyOf
  switch (found.code) {
    case 'field-not-in-data':
      return definition.columns.some(({ key }) => key === found.nearest)
        ? `Stattdessen „${found.nearest}“ zeigen`
        : 'Spalte entfernen'
    case 'expression-wrong':
      return found.of === 'column' ? 'Spalte entfernen' : 'Regel entfernen'
    case 'detail-column-absent':
    case 'choices-absent':
      return 'Weglassen'
    case 'title-missing':
      return `„${found.proposed}“ nennen`
    case 'title-doubled':
      return `„${definition.columns.find(({ key }) => key === found.key)?.title}“ nennen`
    case 'width-cuts-off':
      return `${found.proposed} px breit machen`
    case 'order-refused':
      return 'Leser danach sortieren lassen'
    case 'ordered-as-text':
      return 'Nach den Werten sortieren'
    case 'format-hides':
      return `${decimals(found.needed)} zeigen`
    default:
      return definition.key.length > 0 ? `${list(definition.key)} verwenden` : 'Ohne Schlüssel auskommen'
  }
}
