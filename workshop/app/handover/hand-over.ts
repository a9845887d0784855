/** What a grid is handed over for. */
export type HostName = 'page' | 'vite' | 'vue' | 'react' | 'svelte' | 'angular' | 'definition'

/** A file of what is handed over; its path is relative to the folder that the zip makes. */
export interface HandedFile {
  readonly path: string
  readonly text: string
}

/** What was handed over the last time, to be compared with what would be now. */
export interface HandOver {
  readonly host: HostName
  /** Milliseconds since 1970. */
  readonly at: number
  readonly files: readonly HandedFile[]
}
