import type { HandedGrid } from '../handed-grid'
import { nameCode, textCode } from './code-text'

type Language = 'typescript' | 'javascript'

/** What the definition names and JSON cannot hold, each with a line that says that it was called; empty: it names nothing. */
export function partsCode({ definition, origin, rowsFrom }: HandedGrid, language: Language): string {
  const actions = definition.columns.flatMap(({ cell }) => (cell.kind === 'actions' ? cell.actions : []))
  const painter = definition.detail?.painter
  const edits = definition.columns.flatMap(({ edit }) => edit ?? [])
  const checks = edits.flatMap(({ ownCheck }) => (ownCheck === undefined ? [] : [{ name: ownCheck }]))
  const choices = edits.flatMap(one =>
    one.choices && 'own' in one.choices ? [{ name: one.choices.own }] : [],
  )
  const changes = edits.length > 0 || definition.editing.remove
  const groups = [
    // A service saves by itself.
    changes && (origin.kind !== 'service' || rowsFrom === 'array') ? SAVE : '',
    listed(
      'checks',
      checks,
      name => `({ value, values }) => (console.log(${textCode(name)}, value, values), null)`,
    ),
    listed(
      'choices',
      choices,
      name => `({ search, values }) => (console.log(${textCode(name)}, search, values), [])`,
    ),
    listed('actions', actions, name => `({ key, record }) => console.log(${textCode(name)}, key, record)`),
    listed(
      'batch',
      definition.actions,
      name => `({ count, rows }) => console.log(${textCode(name)}, count, rows)`,
    ),
    painter === undefined ? '' : `  details: {\n    ${nameCode(painter)}: ${detailCode(language)},\n  },\n`,
  ].filter(Boolean)
  return groups.length === 0 ? '' : `{\n${groups.join('')}}`
}

/** Whoever answers nothing says that all is saved. */
const SAVE = `  save: async changes => {
    console.log('save', changes)
    return undefined
  },
`

function listed(
  kind: string,
  actions: readonly { readonly name: string }[],
  code: (name: string) => string,
): string {
  const names = [...new Set(actions.map(({ name }) => name))]
  if (names.length === 0) return ''
  return `  ${kind}: {\n${names.map(name => `    ${nameCode(name)}: ${code(name)},\n`).join('')}  },\n`
}

const detailCode = (language: Language): string => {
  const state = language === 'typescript' ? '(place as HTMLElement)' : 'place'
  return `{
      create: place => place.appendChild(document.createElement('pre')),
      update: (place, { record }) => {
        ${state}.textContent = JSON.stringify(record, null, 2)
      },
    }`
}
