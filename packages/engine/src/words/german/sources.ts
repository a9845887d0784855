import type { SourceProblem } from '../../read/source-problem.ts'
import type { ReadProblem } from '../../read/read-report.ts'
import type { SourceRemark } from '../../question/source-remark.ts'
import { FIELD_TYPES } from './problems.ts'

const CANNOT = {
  search: () => 'nicht suchen',
  order: () => 'danach nicht sortieren',
  groups: () => 'so nicht gruppieren',
  condition: (column: string) => `„${column}“ so nicht eingrenzen`,
}

const megabytes = (bytes: number): string => `${Math.ceil(bytes / 2 ** 20)} MB`

export function sourceProblem(problem: SourceProblem): string {
  switch (problem.code) {
    case 'recipe-not-valid':
      return `Das Rezept für erfundene Zeilen gilt nicht bei ${problem.path || 'seinem Anfang'}: ${problem.reason}`
    case 'no-such-source':
      return `Aus einer Quelle der Art „${problem.kind}“ können keine Zeilen kommen. Geben Sie eine Liste von Zeilen, eine eigene Quelle mit view und ask, oder eine der Arten ${problem.kinds.join(', ')}.`
    case 'service-not-reached':
      return `${problem.service} war nicht zu erreichen (${problem.reason}).`
    case 'service-refused': {
      const said = problem.reason === '' ? '' : ` Er sagt: ${problem.reason}`
      if (problem.status === 401 || problem.status === 403)
        return `${problem.service} will wissen, wer fragt. Melden Sie sich an, und fragen Sie noch einmal.${said}`
      return `${problem.service} antwortet mit dem Status ${problem.status}.${said}`
    }
    case 'service-unreadable':
      return `Was ${problem.service} auf ${problem.what} antwortet, ist nicht, was OData verlangt.`
    case 'service-has-no-such-rows': {
      const have = problem.names.length === 0 ? 'keine Entitätsmengen' : problem.names.slice(0, 8).join(', ')
      return `${problem.service} hat keine Entitätsmenge „${problem.rows}“. Vorhanden: ${have}.`
    }
    case 'listing-unreadable':
      return `${problem.service} antwortet ohne Liste von Zeilen bei „${problem.pointer}“. Sagen Sie, wo sie in der Antwort stehen (rows).`
    case 'listing-without-key':
      return `Zeilen von ${problem.service} haben kein „${problem.key}“, das sie benennen soll. Sagen Sie, welche Felder es tun (key).`
    case 'listing-parts-alike':
      return `${problem.service} antwortet mit denselben Zeilen, nach welchem Teil auch gefragt wird: ${problem.parameters.join(' und ')} bewirken nichts. Sagen Sie, welche Parameter einen Teil verlangen (page).`
    case 'listing-not-of-type':
      return `„${problem.text}“ im Feld „${problem.field}“ ist nicht von der Art ${FIELD_TYPES[problem.type]} und gilt als fehlend. Nennen Sie die Art des Feldes (fields).`
    case 'near-too-many':
      return `${problem.service} kann ${CANNOT[problem.what](problem.column)}, und ${problem.rows.toLocaleString('de')} Zeilen sind mehr als die ${problem.most.toLocaleString('de')}, mit denen die Seite es selbst tut. Grenzen Sie sie zuerst ein.`
    case 'service-rows-moved':
      return `Zeilen des Dienstes bei ${problem.service} wurden geändert, während sie gelesen wurden: eine kam zweimal. Was zu sehen ist, wurde neu erfragt.`
    case 'service-too-many-rows':
      return `${problem.service} hält die Zeilen; mehr als ${problem.most} können nicht einzeln gewählt werden. Wählen Sie weniger, oder alle, die durchkommen.`
    case 'service-too-many-groups':
      return `Es gibt mehr als ${problem.most} Gruppen. Gruppieren Sie nach einer Spalte mit weniger Werten oder nach Bereichen.`
    case 'service-too-many-kept':
      return `Mehr als ${problem.most} Gruppen blieben, und mehr als ${problem.most} fielen weg: ${problem.service} kann nicht nach so vielen beim Namen gefragt werden. Behalten Sie weniger, etwa nur die ersten.`
    case 'failed':
      return `Die Zeilen konnten nicht gelesen werden: ${problem.reason}`
    default:
      return readProblem(problem)
  }
}

export function remark(told: SourceRemark): string {
  switch (told.code) {
    case 'made-up':
      return 'Die Zeilen sind nach einem Rezept erfunden.'
    case 'computed':
      return 'Zeilen werden aus ihrer Nummer berechnet; sie lassen sich nicht sortieren, eingrenzen, durchsuchen oder gruppieren.'
    case 'grown':
      return `Zeilen ab ${told.rows + 1} sind erfunden: ganze Zeilen aus den ersten ${told.rows}, deren Verteilungen sie folgen.`
    case 'other-type':
      return `„${told.field}“ liest sich in den ersten ${told.rows} Zeilen als ${FIELD_TYPES[told.first]}, nach allen ist es ${FIELD_TYPES[told.type]}.`
    case 'parts-in-page':
      return `Die Engine läuft in der Seite, denn eigene Bedingungen oder Auswertungen (${told.names.join(', ')}) brauchen einen eigenen Worker, der sie an serveEngine gibt.`
    case 'no-worker':
      return `Die Engine läuft in der Seite, denn ihr Worker ließ sich nicht starten: ${told.reason}`
    case 'all-fetched':
      return `Alle ${told.rows} Zeilen wurden geholt, sodass die Seite alles mit ihnen tut.`
    case 'left-out':
      return `Ausgelassen, weil keine Zelle sie zeigen kann: ${told.names.join(', ')}.`
    case 'broken-off':
      return `Weitere Zeilen waren nicht zu bekommen: ${told.reason}`
  }
}

export function readProblem(problem: ReadProblem): string {
  switch (problem.code) {
    case 'empty':
      return 'Es ist nichts darin. Nötig ist wenigstens eine Kopfzeile oder eine Zeile.'
    case 'web-page':
      return 'Das ist eine Webseite und keine Datei mit Zeilen: die Adresse ist vielleicht falsch, oder die Datei liegt nicht dort. Wählen Sie das Format, wenn sie gemeint ist.'
    case 'not-text': {
      const byte = problem.byte === 0 ? 'ein NUL-Byte' : `das Byte ${problem.byte}`
      return `Zeile ${problem.line} enthält ${byte}; das ist keine Textdatei. Kommt sie aus einer Tabellenkalkulation, speichern Sie sie dort als CSV in UTF-8.`
    }
    case 'not-utf8':
      return `Zeile ${problem.line} ist kein Text in UTF-8. Wählen Sie die Kodierung, in der sie geschrieben ist, oder speichern Sie sie als UTF-8.`
    case 'unclosed-quote':
      return `Das Anführungszeichen, das in Zeile ${problem.line} öffnet, wird nie geschlossen. Schließen Sie es, oder verdoppeln Sie es, wenn es zum Text gehört.`
    case 'not-a-mark':
      return problem.what === 'delimiter'
        ? `${JSON.stringify(problem.given)} kann nicht das Trennzeichen sein: es ist ein einzelnes Zeichen, weder Anführungszeichen noch Zeilenumbruch. Wählen Sie ein anderes, oder lassen Sie es herausfinden.`
        : `${JSON.stringify(problem.given)} kann keine Kommentarzeilen beginnen: es ist ein einzelnes Zeichen, nicht das Trennzeichen, weder Anführungszeichen noch Zeilenumbruch.`
    case 'too-uneven':
      return `Die Zeilen haben so verschiedene Felder, dass die Tabelle etwa ${megabytes(problem.needBytes)} für ${megabytes(problem.readBytes)} Text brauchte, fast alles davon leer. Prüfen Sie das Trennzeichen, offene Anführungszeichen, oder ob Schlüssel von Objekten in Wahrheit Werte sind.`
    case 'too-many-fields':
      return `Zeile ${problem.line} hat ${problem.fields} Felder; höchstens ${problem.most} werden gelesen. Prüfen Sie das Trennzeichen, oder ob Schlüssel von Objekten in Wahrheit Werte sind.`
    case 'not-json': {
      const found = problem.found === '' ? 'endet der Text' : `steht „${problem.found}“`
      return `In Zeile ${problem.line}, Spalte ${problem.column} ${found}, wo JSON anders weitergeht. Prüfen Sie, was die Datei geschrieben hat.`
    }
    case 'no-rows': {
      if (problem.lists.length === 0) return 'Das Dokument enthält keine Liste, also keine Zeilen.'
      const lists = problem.lists.map(path => path || 'das Dokument selbst').join(', ')
      return `Bei „${problem.rowsPath}“ steht keine Liste von Zeilen. Listen stehen bei: ${lists}.`
    }
    case 'not-rows':
      return `Die Liste ${problem.rowsPath ? `bei „${problem.rowsPath}“ ` : ''}enthält keine Zeilen: in Zeile ${problem.line} steht „${problem.text.slice(0, 30)}“, weder Objekt noch Liste.`
    case 'row-too-long':
      return `Die Zeile in Zeile ${problem.line} ist länger als ${megabytes(problem.mostBytes)}. Prüfen Sie, ob Klammern und Anführungszeichen schließen.`
    case 'too-large':
      return `Die Tabelle brauchte etwa ${megabytes(problem.needBytes)} Speicher; hier darf sie ${megabytes(problem.allowedBytes)} nehmen. Nehmen Sie weniger Spalten oder Zeilen, oder lassen Sie einen Dienst mit Teilen davon antworten.`
    case 'encrypted':
      return `Diese Datei im Format ${problem.format} ist verschlüsselt und wird hier nicht gelesen. Schreiben Sie sie unverschlüsselt, oder lassen Sie einen Dienst, der den Schlüssel hat, mit den Zeilen antworten.`
    case 'no-decoder':
      return `Der Teil, der ${problem.format}-Dateien liest, konnte nicht geladen werden: ${problem.reason}. Er ist eine eigene Datei neben der Engine; die alleinstehende Fassung kommt ohne ihn. Geben Sie die Zeilen als JSON oder Text mit Trennzeichen, oder verwenden Sie die Pakete.`
    case 'damaged':
      return `Die ${problem.format}-Datei kann nicht gelesen werden: ${problem.reason}. Prüfen Sie, ob sie vollständig ist.`
  }
}
