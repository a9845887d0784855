// The parts of the package by which it writes the end of a file; it says nothing of their types.
declare module '@uwdata/flechette/src/encode/builder.js' {
  import type { MemorySink } from '@uwdata/flechette/src/encode/sink.js'
  export class Builder {
    constructor(sink: MemorySink)
    addBuffer(bytes: Uint8Array): void
  }
}
declare module '@uwdata/flechette/src/encode/sink.js' {
  export class MemorySink {
    finish(): Uint8Array<ArrayBuffer>
  }
}
declare module '@uwdata/flechette/src/encode/footer.js' {
  import type { Schema } from '@uwdata/flechette'
  import type { Builder } from '@uwdata/flechette/src/encode/builder.js'
  export function writeFooter(
    builder: Builder,
    schema: Schema,
    dictionaries: readonly object[],
    records: readonly object[],
    metadata: null,
  ): void
}
