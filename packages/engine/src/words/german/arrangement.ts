import type { CalendarUnit, ConditionWords } from '../../condition/kinds/kind.ts'
import type { ArrangementSpeaker } from '../difference-text.ts'
import type { DifferenceFacts } from '../../definition/differences.ts'
import type { LinkProblem } from '../../definition/arrangement-link.ts'
import type { LeftOut } from '../../definition/merge-arrangement.ts'
import type { SummaryKind } from '../../summary/summary.ts'
import { countIn } from './counts.ts'

const NEAR_DAYS = { this: 'heute', last: 'gestern', next: 'morgen' } as const

/** One unit of the calendar: which, and with which ending the words before it go. */
const UNITS: Readonly<Record<CalendarUnit, { one: string; many: string; ending: 'er' | 'e' | 'es' }>> = {
  day: { one: 'Tag', many: 'Tage', ending: 'er' },
  week: { one: 'Woche', many: 'Wochen', ending: 'e' },
  month: { one: 'Monat', many: 'Monate', ending: 'er' },
  quarter: { one: 'Quartal', many: 'Quartale', ending: 'es' },
  year: { one: 'Jahr', many: 'Jahre', ending: 'es' },
}
const WHICH = { this: 'dies', last: 'letzt', next: 'nächst' } as const

export const conditions: Omit<ConditionWords, 'own'> = {
  and: 'und',
  or: 'oder',
  more: count => `${count} weitere`,
  contains: text => `enthält ${text}`,
  excludes: text => `enthält nicht ${text}`,
  starts: text => `beginnt mit ${text}`,
  ends: text => `endet mit ${text}`,
  equals: text => `ist ${text}`,
  differs: text => `ist nicht ${text}`,
  pattern: text => `entspricht ${text}`,
  exactly: text => `${text}, Groß- und Kleinschreibung und Akzente zählen`,
  above: text => `über ${text}`,
  atLeast: text => `mindestens ${text}`,
  below: text => `unter ${text}`,
  atMost: text => `höchstens ${text}`,
  between: (from, to) => `${from} bis ${to}`,
  relative(which, unit, count) {
    if (unit === 'day' && count === 0) return NEAR_DAYS[which]
    const { one, many, ending } = UNITS[unit]
    return count > 1 ? `${WHICH[which]}e ${count} ${many}` : `${WHICH[which]}${ending} ${one}`
  },
  noneOf: texts => `nicht ${texts}`,
  allOf: texts => texts,
  missing: 'fehlt',
  present: 'vorhanden',
}

export const summaries: Readonly<Record<SummaryKind, string>> = {
  count: 'Zeilen',
  present: 'Werte',
  missing: 'Fehlende',
  distinct: 'Verschiedene Werte',
  sum: 'Summe',
  mean: 'Mittelwert',
  minimum: 'Minimum',
  maximum: 'Maximum',
  range: 'Spannweite',
  median: 'Median',
  quantile: 'Quantil',
  deviation: 'Standardabweichung',
  first: 'Erster',
  last: 'Letzter',
  frequent: 'Häufigster',
  same: 'Falls alle gleich',
  share: 'Anteil an allem',
  'share-of-parent': 'Anteil an der Gruppe darüber',
  expression: 'Ausdruck',
  own: 'Eigene Zusammenfassung',
}

const DIRECTIONS = { ascending: 'aufsteigend', descending: 'absteigend' } as const
/** Columns named one by one up to here; beyond, they are counted. */
const NAMED = 4

export function difference(facts: DifferenceFacts, speaker: ArrangementSpeaker): string {
  const named = (columns: readonly string[]): string =>
    columns.length > NAMED ? `${columns.length} Spalten` : columns.map(speaker.titleOf).join(', ')
  const verb = (columns: readonly string[]): string => (columns.length === 1 ? 'ist' : 'sind')
  switch (facts.code) {
    case 'moved':
      return `${named(facts.columns)} ${facts.columns.length === 1 ? 'steht' : 'stehen'} anderswo`
    case 'hidden':
      return `${named(facts.columns)} ${verb(facts.columns)} ausgeblendet`
    case 'shown':
      return `${named(facts.columns)} ${verb(facts.columns)} eingeblendet`
    case 'pinned': {
      const where = { start: 'am Anfang fixiert', middle: 'nicht fixiert', end: 'am Ende fixiert' }
      return `${named(facts.columns)} ${verb(facts.columns)} ${where[facts.part]}`
    }
    case 'width': {
      const how = facts.width === null ? 'so breit wie zu Beginn' : `${facts.width} px breit`
      return facts.columns.length === 1
        ? `${named(facts.columns)} ist ${how}`
        : `${named(facts.columns)} haben andere Breiten`
    }
    case 'order': {
      const keys = facts.order.map(
        ({ column, direction }) => `${speaker.titleOf(column)} ${DIRECTIONS[direction]}`,
      )
      return keys.length === 0 ? 'Nicht sortiert' : `Sortiert nach ${keys.join(', dann ')}`
    }
    case 'condition': {
      const title = speaker.titleOf(facts.column)
      if (!facts.condition) return `Keine Bedingung für ${title}`
      return `Nur Zeilen mit ${title} ${speaker.condition(facts.column, facts.condition)}`
    }
    case 'where':
      return facts.where.trim()
        ? `Nur Zeilen, für die ${facts.where} gilt`
        : 'Kein Ausdruck, dem Zeilen genügen müssen'
    case 'search':
      return facts.search.trim() ? `Gesucht nach „${facts.search}“` : 'Keine Suche'
    case 'groups': {
      const levels = facts.groups.map(speaker.level)
      return levels.length === 0 ? 'Nicht gruppiert' : `Gruppiert nach ${levels.join(', dann ')}`
    }
    case 'open':
      return 'Andere Gruppen sind offen'
    case 'summary': {
      const title = speaker.titleOf(facts.column)
      return facts.summary === null
        ? `Von ${title} wird nichts zusammengefasst`
        : `Zusammengefasst: ${speaker.summary(facts.summary)} von ${title}`
    }
    case 'pinned-rows':
      return facts.count === 0
        ? 'Keine Zeilen sind fixiert'
        : countIn(facts.count, { one: '1 Zeile ist fixiert', other: '# Zeilen sind fixiert' })
    case 'compared':
      return facts.columns.length === 0
        ? 'Keine Spalten werden verglichen'
        : `${facts.columns.map(speaker.titleOf).join(' und ')} werden verglichen`
    case 'page-size':
      return facts.pageSize === null
        ? 'So viele Zeilen je Seite wie zu Beginn'
        : `${facts.pageSize} Zeilen je Seite`
  }
}

const REASONS: Readonly<Record<LeftOut['code'], string>> = {
  'no-such-column': 'diese Spalte gibt es nicht mehr',
  'not-orderable': 'nach ihr kann nicht mehr sortiert werden',
  'one-key-only': 'sortiert wird jetzt nach einer Spalte auf einmal',
  'not-askable': 'danach kann nicht mehr oder nur wie zu Beginn gefragt werden',
  'not-for-type': 'ihre Werte sind jetzt von anderer Art',
  'not-groupable': 'nach ihr kann nicht mehr gruppiert werden',
  'not-offered': 'diese Zusammenfassung wird nicht mehr angeboten',
  'not-movable': 'sie bleibt jetzt, wo sie ist',
  'stays-together': 'die Spalten unter ihrer Überschrift bleiben jetzt beisammen',
  'not-searchable': 'die Tabelle kann nicht mehr durchsucht werden',
  'no-such-size': 'diese Seitengröße gibt es nicht mehr',
}

const PARTS: Partial<Record<LeftOut['part'], string>> = {
  order: 'Sortierung',
  conditions: 'Bedingung',
  groups: 'Gruppen',
  summaries: 'Zusammenfassung',
  columns: 'Platz',
  pinnedStart: 'Fixierung',
  pinnedEnd: 'Fixierung',
  search: 'Suche',
  pageSize: 'Seitengröße',
}

export function leftOut({ code, part, column }: LeftOut, titleOf: (column: string) => string): string {
  const of = column === null ? '' : ` von „${titleOf(column)}“`
  return `${PARTS[part] ?? part}${of} wurde weggelassen: ${REASONS[code]}.`
}

export function linkProblem({ code, at }: LinkProblem): string {
  switch (code) {
    case 'link-newer':
      return 'Die Anordnung in diesem Link stammt von einer neueren Fassung; die Seite muss erneuert werden, um sie zu lesen.'
    case 'link-too-long':
      return 'Die Anordnung in diesem Link ist zu lang, um eine zu sein.'
    case 'link-damaged':
      return 'Die Anordnung in diesem Link ist beschädigt oder abgeschnitten; bitten Sie noch einmal um den Link.'
    case 'link-no-arrangement':
      return `Was dieser Link enthält, ist keine Anordnung (${at}).`
  }
}
