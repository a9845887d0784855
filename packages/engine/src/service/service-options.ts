/** Where rows are that a service holds, and how it is reached. */
export interface ServiceOptions {
  /** The service's root: `https://data.example.org/odata`. An address without a host is one of the page's own. */
  readonly address: string
  /** The name of the entity set whose rows are shown. */
  readonly rows: string
  /** What the service is called in messages; default: its host. */
  readonly name?: string
  /** How the page asks: a host that signs in gives its own, which adds what the service wants to see. Default: `fetch`. */
  readonly fetch?: (request: Request) => Promise<Response>
  /** Sent with every question. */
  readonly headers?: Readonly<Record<string, string>>
  /** Seconds after which a question that is not answered is taken for lost. Default 60. */
  readonly patience?: number
  /**
   * Rows that pass are fetched as soon as they are few, and answered for by the page from then on; false: never. Only of
   * services whose rows are named by one whole number. Default: up to 5,000 rows and 4 MB.
   */
  readonly near?: NearLimits | false
  /** Seconds after which is looked again whether others have changed what is on screen, while the page is seen. Default: never. */
  readonly every?: number
  /**
   * Hear from the service when rows are changed, by server-sent events: at the address that its metadata name, or at this
   * one; each event has what is on screen looked at again. Default: false, as it takes a line of its own.
   */
  readonly events?: boolean | string
  /** Hears of every question that was answered: for meters. */
  readonly onAsked?: (asked: AskedOfService) => void
}

/** How many rows a page fetches at most. */
export interface NearLimits {
  readonly rows?: number
  /** Of the answer as the service writes it, by what its first rows take. */
  readonly bytes?: number
  /**
   * What the service cannot do, the page does with the rows that are near; with more rows it says that they must be
   * narrowed first. Default: it is not offered.
   */
  readonly more?: boolean
}

/** A question that was put to the service. */
export interface AskedOfService {
  /** What stands behind the service's address. */
  readonly path: string
  /** From asking until the answer was here. */
  readonly ms: number
  /** What of it the database took, and what it did in the service's own words; null: the service does not say. */
  readonly database: { readonly ms: number; readonly did: string } | null
  readonly bytes: number
  readonly status: number
}
