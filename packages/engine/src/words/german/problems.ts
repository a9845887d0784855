import type { CheckProblem } from '../../check/check-problem.ts'
import type { PartProblem } from '../../condition/kinds/kind.ts'
import type { PhraseProblem } from '../../condition/phrase.ts'
import type { ExpressionProblem, ValueType } from '../../expression/problem.ts'
import type { Refusal } from '../../question/abilities.ts'
import type { FieldType } from '../../table/column.ts'
import { countIn } from './counts.ts'

const list = (names: readonly string[]): string => names.map(name => `„${name}“`).join(' und ')
const meant = (nearest: string | null): string => (nearest === null ? '' : ` Gemeint ist „${nearest}“?`)

const CELLS: Readonly<Record<FieldType, string>> = {
  integer: 'keine Zahl',
  number: 'keine Zahl',
  boolean: 'weder ja noch nein',
  date: 'kein Tag wie 2026-04-30',
  time: 'keine Uhrzeit wie 14:05',
  datetime: 'kein Tag mit Uhrzeit wie 2026-04-30 14:05',
  tags: 'keine Liste von Wörtern',
  text: 'kein Text',
}
const CHARACTERS = {
  characters: { other: '# Zeichen' },
  tags: { one: '1 Schlagwort', other: '# Schlagwörter' },
} as const

export function checkProblem(problem: CheckProblem): string {
  switch (problem.code) {
    case 'not-of-type':
      return `„${problem.text}“ ist ${CELLS[problem.type]}.`
    case 'too-many-digits':
      return `„${problem.text}“ hat mehr Stellen, als diese Spalte unterscheiden kann.`
    case 'required':
      return 'Hier wird ein Wert gebraucht.'
    case 'not-whole':
      return 'Hier stehen nur ganze Zahlen.'
    case 'below-least':
      return `Es müssen mindestens ${problem.least} sein.`
    case 'above-most':
      return `Es dürfen höchstens ${problem.most} sein.`
    case 'too-short':
      return `Mindestens ${countIn(problem.shortest, CHARACTERS[problem.of])} werden gebraucht.`
    case 'too-long':
      return `Höchstens ${countIn(problem.longest, CHARACTERS[problem.of])} sind erlaubt.`
    case 'not-a-choice':
      return 'Es ist nicht unter den angebotenen.'
    case 'not-a-choice-beside':
      return `„${problem.column}“ ist nicht unter denen, die neben ${list(problem.beside)} angeboten sind.`
    case 'not-unique':
      return 'Eine andere Zeile hat denselben Wert, und das darf nicht sein.'
    case 'not-matching':
      return problem.says ?? `Es entspricht nicht ${problem.pattern}.`
    case 'not-holding':
      return problem.says ?? `„${problem.expression}“ gilt nicht.`
    case 'check-failed':
      return `Es kann nicht geprüft werden: ${problem.reason}.`
    case 'said':
      return problem.text
  }
}

const TYPES: Readonly<Record<ValueType, string>> = {
  text: 'Text',
  number: 'eine Zahl',
  boolean: 'ja oder nein',
  date: 'ein Datum',
  time: 'eine Uhrzeit',
  datetime: 'ein Datum mit Uhrzeit',
  duration: 'eine Dauer',
  tags: 'Schlagwörter',
  list: 'eine Liste',
  nothing: 'null',
}

export const type = (given: ValueType): string => TYPES[given]
const both = (types: readonly ValueType[]): string => types.map(type).join(' und ')
const wantedWords = (wanted: readonly (readonly ValueType[])[]): string =>
  [...new Set(wanted.map(types => (types.length === 0 ? 'nichts' : both(types))))].join(', oder ')

export function expressionProblem(problem: ExpressionProblem): string {
  switch (problem.code) {
    case 'not-written-right':
      return problem.found === null
        ? 'Der Ausdruck endet zu früh.'
        : `„${problem.found}“ kann hier nicht stehen.`
    case 'not-closed':
      return `„${problem.found}“ wird nicht geschlossen; der Ausdruck endet zu früh.`
    case 'unknown-name':
      return `Es gibt kein Feld „${problem.name}“.${meant(problem.nearest)}`
    case 'unknown-function':
      return `Es gibt keine Funktion „${problem.name}“.${meant(problem.nearest)}`
    case 'wrong-types':
      return problem.given.length === 0
        ? `„${problem.name}“ braucht ${wantedWords(problem.wanted)}.`
        : `„${problem.name}“ nimmt nicht ${both(problem.given)}, sondern ${wantedWords(problem.wanted)}.`
    case 'branches-differ':
      return `Beide Seiten von „:“ müssen von einer Art sein; diese sind ${both(problem.given)}.`
    case 'nothing-compared':
      return 'Ein Vergleich mit null trifft nie zu. Fragen Sie mit has(…), ob es einen Wert gibt.'
    case 'not-readable':
      return problem.what === 'pattern'
        ? `„${problem.text}“ ist kein Muster in der Schreibweise von RE2.`
        : `„${problem.text}“ kann nicht gelesen werden als ${type(problem.what)}.`
    case 'must-be-written-out':
      return `Wonach „${problem.name}“ sucht, muss in Anführungszeichen ausgeschrieben sein; es kann nicht aus einem Feld kommen.`
    case 'not-in-dialect':
      return `${problem.what} kann hier nicht verwendet werden.`
    case 'no-such-result':
      return problem.wanted === 'boolean'
        ? `Das Ergebnis muss ja oder nein sein; es ist ${type(problem.given)}.`
        : `Das Ergebnis kann nicht ${type(problem.given)} sein.${problem.given === 'duration' ? ' Nennen Sie die Einheit, etwa mit .getHours().' : ''}`
    case 'source-cannot-compute':
      return 'Diese Zeilen kommen aus einer Quelle, die keine Spalten ausrechnen kann.'
    case 'parser-not-there':
      return `Ausdrücke können nicht gelesen werden, weil der Teil, der sie liest, nicht geladen werden konnte: ${problem.reason}`
    case 'circular':
      return `Diese Spalten werden auseinander berechnet: ${problem.names.map(name => `„${name}“`).join(', ')}.`
  }
}

export function partProblem(problem: PartProblem): string {
  switch (problem.code) {
    case 'not-for-type':
      return `„${problem.kind}“ kann von einer Spalte der Art ${FIELD_TYPES[problem.type]} nicht gefragt werden.`
    case 'not-readable':
      return `„${problem.text}“ ist kein Wert der Art ${FIELD_TYPES[problem.type]}.`
    case 'not-a-pattern':
      return `„${problem.text}“ ist kein Muster in der Schreibweise von RE2.`
    case 'patterns-not-there':
      return 'Muster können nicht verwendet werden, weil der Teil, der sie liest, nicht geladen werden konnte.'
    case 'unknown-kind':
      return `Diese Tabelle kennt keine Bedingung „${problem.name}“.${meant(problem.nearest)}`
    case 'values-not-valid':
      return `Die Werte von „${problem.name}“ stimmen nicht: ${problem.reason}`
    case 'not-in-service':
      return 'Diese Spalte wird in der Seite aus Zeilen berechnet, die ein Dienst hält; er kann nach ihr deshalb nicht gefragt werden.'
    case 'threw':
      return `„${problem.name}“ ist gescheitert: ${problem.reason}`
  }
}

export const FIELD_TYPES: Readonly<Record<FieldType, string>> = {
  text: 'Text',
  integer: 'ganze Zahl',
  number: 'Zahl',
  boolean: 'ja oder nein',
  date: 'Datum',
  time: 'Uhrzeit',
  datetime: 'Datum mit Uhrzeit',
  tags: 'Schlagwörter',
}

const EXPECTED: Readonly<Record<FieldType, string>> = {
  text: 'kein Text',
  tags: 'kein Schlagwort',
  boolean: 'weder ja noch nein',
  integer: 'keine Zahl',
  number: 'keine Zahl',
  date: 'kein Datum wie 2024-06-14 oder 2024-06',
  time: 'keine Uhrzeit wie 09:30',
  datetime: 'kein Datum und keine Uhrzeit wie 2024-06-14 oder 2024-06-14T09:30',
}

export function phraseProblem(problem: PhraseProblem): string {
  switch (problem.code) {
    case 'not-closed':
      return 'Was hier mit einem Anführungszeichen beginnt, wird nicht geschlossen.'
    case 'and-with-or':
      return 'Teile werden mit „and“ oder mit „or“ verbunden, nicht mit beiden.'
    case 'says-nothing':
      return 'Hier fehlt etwas.'
    case 'not-a-value':
      return `„${problem.text}“ ist ${EXPECTED[problem.type]}.`
    case 'turned-round':
      return `„${problem.text}“ beginnt nach seinem Ende.`
  }
}

export function refusal(why: Refusal): string {
  switch (why.code) {
    case 'rows-computed':
      return 'Diese Zeilen werden aus ihrer Nummer berechnet, wenn man sie ansieht; niemand kann sie alle durchsuchen.'
    case 'service-cannot':
      return `${why.service} bietet das nicht an.`
  }
}
