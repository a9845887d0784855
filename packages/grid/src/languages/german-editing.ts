import { german as engine } from '@vast-meadow/engine/german'
import type { EditingTexts } from '../kernel/editing-texts.ts'
import { countIn, rows } from './german-counts.ts'

const cells = (shown: string, count: number): string =>
  countIn(count, { one: '1 Zelle', other: '# Zellen' }, shown)
const changes = (shown: string, count: number): string =>
  countIn(count, { one: '1 Änderung', other: '# Änderungen' }, shown)

/** What the grid says in German of changes of rows. */
export const editing: EditingTexts = {
  problem: engine.checkProblem,
  editCell: (title, row) => (row ? `${title} von ${row}` : title),
  was: text => (text === '' ? 'Vorher leer' : `Vorher: ${text}`),
  savedMeanwhile: text =>
    text === '' ? 'Inzwischen von jemand anderem geleert' : `Inzwischen von jemand anderem geändert: ${text}`,
  goneMeanwhile: 'Jemand anderes hat diese Zeile gelöscht',
  refused: reason => `Nicht gespeichert: ${reason}`,
  toBeDeleted: 'Wird beim Speichern gelöscht',
  newRowMark: 'Neu, noch nicht gespeichert',
  rowStays: 'Geht an ihren Platz, sobald Sie sie verlassen',
  edit: 'Diese Zelle ändern',
  clear: 'Diese Zellen leeren',
  fillDown: 'Von der ersten nach unten füllen',
  sameInSelected: (shown, count) => `Derselbe Wert in ${rows(shown, count)} der Auswahl`,
  replaceIn: title => `In ${title} ersetzen …`,
  newRow: 'Neue Zeile',
  copyRow: 'Neue Zeile wie diese',
  deleteRow: 'Diese Zeile löschen',
  deleteSelected: (shown, count) => `${rows(shown, count)} der Auswahl löschen`,
  keepRow: 'Diese Zeile nicht löschen',
  takeBack: 'Zurücknehmen',
  takeBackCell: 'Diese Änderung zurücknehmen',
  keepMine: 'Meines behalten',
  takeTheirs: 'Das andere nehmen',
  askDelete: (names, more) =>
    more > 0
      ? `${names} und ${rows(String(more), more)} mehr löschen? Sie gehen beim Speichern.`
      : `${names} löschen? Beim Speichern ist es weg.`,
  delete: 'Löschen',
  changes,
  notValid: shown => `${shown} nicht richtig`,
  conflicts: (shown, count) => countIn(count, { one: '1 Konflikt', other: '# Konflikte' }, shown),
  refusedCount: shown => `${shown} abgelehnt`,
  save: 'Alles speichern',
  saving: 'Wird gespeichert …',
  discard: 'Alles verwerfen',
  show: 'Liste',
  close: 'Schließen',
  askDiscard: (shown, count) => `${changes(shown, count)} verwerfen? Was getippt wurde, ist dann verloren.`,
  listTitle: 'Noch nicht gespeichert',
  listMore: (shown, count) => `und ${rows(shown, count)} mehr`,
  newRowNamed: 'Neue Zeile',
  deletion: 'gelöscht',
  saved: (shown, count) => `${rows(shown, count)} gespeichert`,
  savedSome: (saved, left, count) => `${rows(saved, count)} gespeichert, ${left} nicht`,
  notSaved: reason => `Nichts wurde gespeichert: ${reason}`,
  answerNotRead: where => `Die Antwort auf das Speichern war bei ${where} nicht zu lesen.`,
  noKeyForNew: 'Die Antwort nennt keinen Schlüssel für die neue Zeile.',
  nothingToSave: 'Es gibt nichts zu speichern.',
  nothingRight: shown => `Noch kann nichts gespeichert werden: ${shown} nicht richtig.`,
  cannotEdit: {
    column: 'Diese Spalte kann nicht geändert werden.',
    row: 'Diese Zelle kann in dieser Zeile nicht geändert werden.',
    key: 'Der Schlüssel benennt die Zeile; er bleibt.',
    service: 'Der Dienst, der die Zeilen hält, lässt das nicht ändern.',
    removed: 'Diese Zeile soll gelöscht werden.',
    saving: 'Diese Zeile wird gerade gespeichert.',
    group: 'Nur Zellen von Zeilen können geändert werden.',
  },
  typed: (column, text) => (text === '' ? `${column} geleert` : `${column} ist ${text}`),
  pasted: (shown, count) => `${cells(shown, count)} eingefügt`,
  pastedSome: (shown, left, count) =>
    `${cells(shown, count)} eingefügt; ${left} können nicht geändert werden`,
  cleared: (shown, count) => `${cells(shown, count)} geleert`,
  filled: (shown, count) => `${cells(shown, count)} gefüllt`,
  replaced: (shown, count) => `${cells(shown, count)} ersetzt`,
  moreRows: (shown, count) =>
    countIn(
      count,
      { one: '1 Zeile lag jenseits der letzten.', other: '# Zeilen lagen jenseits der letzten.' },
      shown,
    ),
  addThem: 'Als neue Zeilen hinzufügen',
  added: 'Neue Zeile',
  deleted: (shown, count) => `${rows(shown, count)} zu löschen`,
  rowWentTo: line => `Die geänderte Zeile ging zu Zeile ${line}.`,
  rowHeldBack: 'Die geänderte Zeile genügt den Bedingungen nicht mehr.',
  goThere: 'Dorthin gehen',
  undo: 'Rückgängig',
  notKept: reason => `Ungespeicherte Änderungen bleiben nicht bis zum nächsten Besuch: ${reason}`,
  keptNotRead: reason => `Ungespeicherte Änderungen von vorher waren nicht zu lesen: ${reason}`,
  leftOut: fields => `Einige ungespeicherte Änderungen fehlen: ${fields} gibt es nicht mehr.`,
  choices: 'Auswahl',
  noChoice: 'Nichts in der Auswahl enthält das.',
  openCalendar: 'Tag wählen',
  replaceThis: 'Suchen',
  replaceBy: 'Ersetzen durch',
  replaceWhole: 'Nur ganze Zellen',
  replaceCase: 'Groß- und Kleinschreibung beachten',
  replaceRows: 'In',
  replaceWhich: {
    passing: (shown, count) =>
      countIn(
        count,
        { one: 'der einen Zeile, die durchkommt', other: 'allen # Zeilen, die durchkommen' },
        shown,
      ),
    selected: (shown, count) =>
      countIn(count, { one: 'der ausgewählten Zeile', other: '# ausgewählten Zeilen' }, shown),
  },
  replaceNow: 'Ersetzen',
  replacePreview: (shown, count) =>
    countIn(count, { one: '1 Zelle wird geändert.', other: '# Zellen werden geändert.' }, shown),
  replaceNone: 'Keine Zelle enthält das.',
  replaceWrong: shown => `${shown} werden nicht richtig sein und bleiben ungespeichert.`,
  replaceFixed: shown => `${shown} können nicht geändert werden.`,
  replaceTooMany: (shown, most, count) =>
    `${countIn(count, { one: '1 Zelle enthält', other: '# Zellen enthalten' }, shown)} das; ${most} können auf einmal ersetzt werden. Fragen Sie nach weniger Zeilen.`,
  replaceMore: shown => `und ${shown} mehr`,
  nothingThere: 'nichts',
}
