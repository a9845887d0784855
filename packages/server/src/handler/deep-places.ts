import type { Answered, SqlEngine } from '../engine/engine.ts'
import { QuestionError } from '../language/problem.ts'
import { isByProperties } from '../statement/order-sql.ts'
import { placesStatement, rowsFromPlace } from '../statement/places-statement.ts'
import { rowsStatement, type Asked, type RowsStatement } from '../statement/statement.ts'

export interface PlaceLimits {
  /** From how many rows on that are left out, places are looked up. */
  readonly from: number
  /** Rows from one place to the next. */
  readonly step: number
  /** How long places are taken to be where they are. */
  readonly keptMs: number
}

/** Orders whose places are kept; the one used longest ago is forgotten. */
const MOST_ORDERS = 32

const NEVER = new AbortController().signal

interface Places {
  readonly keys: Promise<readonly (readonly Answered[])[]>
  readonly until: number
}

/**
 * Rows far behind the first, without counting through those before them: of each order and condition, the key of every
 * so many rows is looked up once and kept, and a jump goes on from the nearest. Costs one sort of the keys at the first
 * jump, and what lies between two places at each.
 */
export class DeepPlaces {
  private readonly engine: SqlEngine
  private readonly limits: PlaceLimits
  private readonly known = new Map<string, Places>()

  constructor(engine: SqlEngine, limits: PlaceLimits) {
    this.engine = engine
    this.limits = limits
  }

  /** The statement that reads `top` rows as they are asked for. */
  async statement(asked: Asked, top: number, signal: AbortSignal): Promise<RowsStatement> {
    const { dialect } = this.engine
    const { query } = asked
    const { from, step } = this.limits
    if (query.skip < from || query.apply.length > 0 || !isByProperties(query.order))
      return rowsStatement(asked, dialect, top)
    const places = await unlessGivenUp(this.placesOf(asked), signal)
    const nth = Math.min(places.length - 1, Math.floor(query.skip / step))
    if (nth < 0) return rowsStatement(asked, dialect, top)
    const to = places.at(Math.ceil((query.skip + top) / step)) ?? null
    return rowsFromPlace(asked, dialect, { from: places[nth], to, skip: query.skip - nth * step, top })
  }

  /** Rows were changed. */
  forget(): void {
    this.known.clear()
  }

  /** Who leaves before they are known does not end the looking: they will be wanted again. */
  private placesOf(asked: Asked): Places['keys'] {
    const { table, query, rule } = asked
    const name = JSON.stringify([table.name, query.filter, query.search, query.order, rule?.where])
    const before = this.known.get(name)
    this.known.delete(name)
    if (before && before.until > Date.now()) {
      this.known.set(name, before)
      return before.keys
    }
    const keys = this.engine.rows(placesStatement(asked, this.engine.dialect, this.limits.step), NEVER)
    this.known.set(name, { keys, until: Date.now() + this.limits.keptMs })
    // What failed is looked up again.
    keys.catch(() => this.known.delete(name))
    if (this.known.size > MOST_ORDERS) this.known.delete([...this.known.keys()][0])
    return keys
  }
}

function unlessGivenUp<T>(promise: Promise<T>, signal: AbortSignal): Promise<T> {
  return new Promise((resolve, reject) => {
    const giveUp = (): void => reject(new QuestionError({ code: 'given-up' }))
    if (signal.aborted) giveUp()
    signal.addEventListener('abort', giveUp, { once: true })
    promise.then(resolve, reject)
  })
}
