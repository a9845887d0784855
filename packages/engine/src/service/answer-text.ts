import type { Progress } from '../source/row-source.ts'
import { isRecord } from '../work/checked.ts'
import { asText } from './values.ts'

/** What an answer to a change says: the row, or what of it is refused. */
export interface SaidOfRow {
  readonly record: Readonly<Record<string, unknown>> | null
  /** Names of properties that a refusal speaks of, with what it says of each. */
  readonly fields: Readonly<Record<string, string>>
}

/** What the service says of its failure, where it says it as the protocol wants. */
export function reasonIn(text: string): string {
  try {
    const body: unknown = JSON.parse(text)
    if (isRecord(body) && isRecord(body.error)) return asText(body.error.message)
  } catch {
    // It says nothing that can be shown.
  }
  return ''
}

export function rowIn(text: string): SaidOfRow {
  let body: unknown
  try {
    body = JSON.parse(text)
  } catch {
    return { record: null, fields: {} }
  }
  if (!isRecord(body)) return { record: null, fields: {} }
  if (!isRecord(body.error)) return { record: body, fields: {} }
  const { error } = body
  const details: unknown[] = Array.isArray(error.details) ? error.details : []
  const said = [error, ...details]
    .filter(isRecord)
    .flatMap(({ target, message }) =>
      typeof target === 'string' && target !== '' ? [[target, asText(message)] as const] : [],
    )
  return { record: null, fields: Object.fromEntries(said) }
}

/** How far a service is with making its rows ready; null: the answer says nothing of it. */
export function preparingIn(text: string): Progress | null {
  try {
    const body: unknown = JSON.parse(text)
    if (!isRecord(body) || !isRecord(body.error) || body.error.code !== 'preparing') return null
    const { facts } = body.error
    if (!isRecord(facts)) return null
    return { doing: asText(facts.doing), done: Number(facts.done), of: Number(facts.of), unit: 'rows' }
  } catch {
    return null
  }
}

/** How long the database took, and what it did, as the answer's headers say (Server Timing). */
export function databaseWork(header: string | null): { readonly ms: number; readonly did: string } | null {
  const found = /(?:^|,)\s*db\s*;([^,]*)/.exec(header ?? '')
  const ms = /(?:^|;)\s*dur=([\d.]+)/.exec(found?.[1] ?? '')
  const did = /(?:^|;)\s*desc="([^"]*)"/.exec(found?.[1] ?? '')
  return ms ? { ms: Number(ms[1]), did: did?.[1] ?? '' } : null
}
