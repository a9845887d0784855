export interface Servers {
  readonly coordinator: string
  readonly shards: readonly string[]
}

export function runOn(url: string, statements: readonly string[]): Promise<void>

export function makeSplitTable(
  servers: Servers,
  name: string,
  columns: Readonly<Record<string, string>>,
  key: readonly string[],
): Promise<void>
