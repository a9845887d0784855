import { plainValue, type PlainValue } from '../check/plain-value.ts'
import type { KeyValue } from '../key/key-value.ts'
import type { ChangeList, RowAnswer, SaveAnswer } from '../pending/change-list.ts'
import { SourceError } from '../source/row-source.ts'
import { errorOf } from '../work/checked.ts'
import { problemText } from '../words/source-problem-text.ts'
import { RowKeys } from './row-keys.ts'
import { propertyNamed } from './rows-query.ts'
import type { Property, ServiceSchema } from './schema.ts'
import type { Sent, Service } from './service.ts'
import type { ServiceContext } from './service-view.ts'
import { valueIn, type Json } from './values.ts'
import { writeRecord } from './write-record.ts'

/** So often a row is looked at anew that others change while it is being saved. */
const MOST_TRIES = 4

type Cells = Readonly<Record<string, PlainValue>>

/** What came of one row, or why nothing did. */
type Outcome = { readonly answer: RowAnswer } | { readonly failed: unknown }

/**
 * Saves a list of changes in a service, a question or two for each row, many in one where the service takes them so. A row is looked at before it is changed: where
 * others have changed the same cells, that is told and nothing sent; else the change is bound to what was seen. A change
 * whose answer was lost is found to be made when it is tried again. `keyFields`: what names rows in the list.
 */
export async function saveToService(
  context: ServiceContext,
  list: ChangeList,
  keyFields: readonly string[],
  signal?: AbortSignal,
): Promise<SaveAnswer> {
  const rows = new RowsOfService(context, keyFields, signal)
  const atOnce = context.service.changesAtOnce
  const outcomes = [
    // What goes makes room for keys and values that new rows may have.
    ...(await eachOf(atOnce, list.removed, ({ key }) => rows.remove(key))),
    ...(await eachOf(atOnce, list.changed, ({ key, before, after }) => rows.update(key, before, after))),
    ...(await eachOf(atOnce, list.added, ({ name, values }) => rows.insert(name, values))),
  ]
  const failed = outcomes.flatMap(outcome => ('failed' in outcome ? [outcome.failed] : []))
  // Where no row came through, whoever saves can try all of them again.
  if (failed.length > 0 && failed.length === outcomes.length) throw failed[0]
  const named = [
    ...list.removed.map(({ key }) => ({ key })),
    ...list.changed.map(({ key }) => ({ key })),
    ...list.added.map(({ name }) => ({ name })),
  ]
  return {
    rows: outcomes.map((outcome, nth) => ({
      ...named[nth],
      ...('failed' in outcome ? { refused: errorOf(outcome.failed).message } : outcome.answer),
    })),
  }
}

/** Does something with each, a few at once, and answers in their order. */
async function eachOf<Item>(
  atOnce: number,
  items: readonly Item[],
  act: (item: Item) => Promise<RowAnswer>,
): Promise<Outcome[]> {
  const outcomes: Outcome[] = []
  let next = 0
  const work = async (): Promise<void> => {
    while (next < items.length) {
      const at = next++
      outcomes[at] = await act(items[at]).then(
        answer => ({ answer }),
        (failed: unknown) => ({ failed }),
      )
    }
  }
  await Promise.all(Array.from({ length: atOnce }, work))
  return outcomes
}

class RowsOfService {
  private readonly service: Service
  private readonly schema: ServiceSchema
  private readonly keys: RowKeys
  private readonly keyFields: readonly string[]
  private readonly signal: AbortSignal | undefined

  constructor({ service, schema, keys }: ServiceContext, keyFields: readonly string[], signal?: AbortSignal) {
    this.service = service
    this.schema = schema
    this.keys = keys
    this.keyFields = keyFields
    this.signal = signal
  }

  async update(key: KeyValue, before: Cells, after: Cells): Promise<RowAnswer> {
    const cells = this.cellsOf(after)
    const { body, type } = writeRecord(cells)
    for (let tries = 0; ; tries++) {
      const seen = await this.look(key)
      if (!seen) return { there: null }
      const { record, path, tag } = seen
      const now = (property: Property): string => said(plainIn(record, property))
      const isDone = cells.every(([property, value]) => now(property) === said(value))
      if (isDone) return { saved: this.plainRecord(record) }
      const differs = cells.some(([property, value]) => {
        const there = now(property)
        return there !== said(before[property.field.key] ?? null) && there !== said(value)
      })
      if (differs || tries === MOST_TRIES) return { there: this.plainRecord(record) }
      const sent = await this.service.send(
        {
          method: 'PATCH',
          path,
          body,
          headers: { 'content-type': type, prefer: 'return=representation', ...matching(tag) },
        },
        this.signal,
      )
      if (isMade(sent)) return { saved: await this.asItIs(sent, key) }
      if (sent.status !== 412) return refusal(sent)
    }
  }

  async insert(name: string, values: Cells): Promise<RowAnswer> {
    const cells = this.cellsOf(values)
    const { body, type } = writeRecord(cells)
    const sent = await this.service.send(
      {
        method: 'POST',
        path: this.schema.rows,
        body,
        headers: { 'content-type': type, prefer: 'return=representation' },
      },
      this.signal,
    )
    if (!isMade(sent)) {
      const before = sent.status === 409 ? await this.madeBefore(cells, values) : null
      return before ? { name, saved: before } : refusal(sent)
    }
    // A service that tells nothing of the new row leaves only what it was to have.
    const saved = sent.record ? this.plainRecord(sent.record) : true
    const key = sent.record ? this.keyIn(sent.record) : undefined
    return { name, saved, ...(key === undefined ? {} : { key }) }
  }

  /** The row that was to be new, where it is there just so: the answer to an earlier try was lost. */
  private async madeBefore(
    cells: readonly (readonly [Property, PlainValue])[],
    values: Cells,
  ): Promise<Record<string, PlainValue> | null> {
    const parts = this.keyFields.map(field => values[field] ?? null)
    const key = parts.length === 1 ? parts[0] : parts
    const seen = parts.includes(null) ? null : await this.look(key as KeyValue)
    const isSame =
      seen && cells.every(([property, value]) => said(plainIn(seen.record, property)) === said(value))
    return isSame ? this.plainRecord(seen.record) : null
  }

  async remove(key: KeyValue): Promise<RowAnswer> {
    for (let tries = 0; ; tries++) {
      const seen = await this.look(key)
      // Somebody was quicker, which is what was wanted.
      if (!seen) return { saved: true }
      const sent = await this.service.send(
        { method: 'DELETE', path: seen.path, headers: matching(seen.tag) },
        this.signal,
      )
      if (isMade(sent) || isGone(sent)) return { saved: true }
      if (sent.status !== 412 || tries === MOST_TRIES) return refusal(sent)
    }
  }

  /** The row as it is now, and where it is changed; null: it is there no more. */
  private async look(key: KeyValue): Promise<{ record: Json; path: string; tag: string | null } | null> {
    const path = await this.pathOf(key)
    if (path === null) return null
    const sent = await this.service.send({ method: 'GET', path }, this.signal)
    if (isGone(sent)) return null
    if (!isMade(sent) || !sent.record) throw new SourceError(sent.problem)
    const tag = sent.tag ?? textOr(sent.record['@odata.etag'] ?? sent.record['@etag'])
    return { record: sent.record, path, tag }
  }

  /** The address of a row; the page may name rows by other fields than the service does. */
  private async pathOf(key: KeyValue): Promise<string | null> {
    const { rows, key: own } = this.schema
    if (this.keyFields.join() === own.join()) {
      const id = this.keys.idOfKey(key)
      return id === null ? null : `${rows}(${encodeURIComponent(this.keys.address(id))})`
    }
    const named = new RowKeys({ ...this.schema, key: this.keyFields })
    const id = named.idOfKey(key)
    if (id === null) return null
    const [record] = await this.service.all(
      rows,
      { $filter: named.filter([id]), $select: own.join(','), $top: '1' },
      this.signal,
    )
    return record ? `${rows}(${encodeURIComponent(this.keys.address(this.keys.idOf(record)))})` : null
  }

  private cellsOf(values: Cells): (readonly [Property, PlainValue])[] {
    return Object.entries(values).flatMap(([column, value]) => {
      const property = propertyNamed(this.schema, column)
      return property ? [[property, value] as const] : []
    })
  }

  /** What a change was answered with, or where that is nothing, the row as it is looked at. */
  private async asItIs({ record }: Sent, key: KeyValue): Promise<Record<string, PlainValue> | true> {
    const told = record ?? (await this.look(key))?.record
    return told ? this.plainRecord(told) : true
  }

  private plainRecord(record: Json): Record<string, PlainValue> {
    return Object.fromEntries(
      this.schema.properties
        .filter(({ path }) => path.split('/')[0] in record)
        .map(property => [property.field.key, plainIn(record, property)]),
    )
  }

  private keyIn(record: Json): RowAnswer['key'] {
    const parts = this.keyFields.map(name => {
      const property = propertyNamed(this.schema, name)
      const value = property ? plainIn(record, property) : null
      return Array.isArray(value) ? value.join() : value
    })
    return parts.length === 1 ? parts[0] : parts
  }
}

const plainIn = (record: Json, property: Property): PlainValue =>
  plainValue(valueIn(record, property), property.field)

/** An empty text and none are the same to who types. */
const said = (value: PlainValue): string => JSON.stringify(value === '' ? null : value)

const textOr = (given: unknown): string | null => (typeof given === 'string' ? given : null)
const matching = (tag: string | null): Record<string, string> => (tag === null ? {} : { 'if-match': tag })
const isMade = ({ status }: Sent): boolean => status >= 200 && status < 300
const isGone = ({ status }: Sent): boolean => status === 404 || status === 410

const refusal = (sent: Sent): RowAnswer =>
  isGone(sent)
    ? { there: null }
    : {
        refused: reasonOf(sent),
        ...(Object.keys(sent.fields).length > 0 ? { fields: { ...sent.fields } } : {}),
      }

const reasonOf = ({ problem }: Sent): string =>
  problem.code === 'service-refused' && problem.reason !== '' ? problem.reason : problemText(problem)
