/** An event of a stream, as the HTML standard (9.2.6) has it read. */
export interface StreamEvent {
  readonly name: string
  readonly data: string
}

/** Reads server-sent events from pieces of their text. */
export class EventStream {
  private rest = ''
  private name = ''
  private readonly data: string[] = []

  /** The events that a piece completes. */
  read(piece: string): StreamEvent[] {
    const lines = (this.rest + piece).replace(/^\uFEFF/, '').split(/\r\n|\n|\r(?!$)/)
    this.rest = lines.pop() ?? ''
    return lines.flatMap(line => this.line(line.replace(/\r$/, '')))
  }

  private line(line: string): StreamEvent[] {
    if (line === '') {
      const { name } = this
      const data = this.data.splice(0)
      this.name = ''
      return data.length === 0 ? [] : [{ name: name || 'message', data: data.join('\n') }]
    }
    const [, field, value] = /^([^:]*)(?:: ?)?(.*)$/s.exec(line) ?? ['', '', '']
    if (field === 'event') this.name = value
    else if (field === 'data') this.data.push(value)
    return []
  }
}
