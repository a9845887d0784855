export interface Server {
  readonly port: number
  readonly url: string
  stop(): Promise<void>
}

export function postgresPrograms(): string | null
export function installPostgres(): void
export function makeServer(folder: string): Promise<void>
export function copyServer(from: string, to: string): Promise<void>
export function freePort(): Promise<number>
export function startServer(
  folder: string,
  port: number,
  settings?: Readonly<Record<string, string>>,
): Promise<Server>
