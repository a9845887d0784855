/** Times frames from the event that caused them until they were painted. */
export class FrameMeter {
  private readonly channel = new MessageChannel()
  private startedAt = 0
  private waiting = false
  private readonly painted: (ms: number) => void

  constructor(painted: (ms: number) => void) {
    this.painted = painted
    this.channel.port1.onmessage = () => {
      this.waiting = false
      this.painted(performance.now() - this.startedAt)
    }
  }

  /** A frame's work begins. Its end is the first task after the next animation frame: style, layout and paint are done by then. */
  begin(at = performance.now()): void {
    if (this.waiting) return
    this.waiting = true
    this.startedAt = at
    requestAnimationFrame(() => this.channel.port2.postMessage(0))
  }

  dispose(): void {
    this.channel.port1.close()
    this.channel.port2.close()
  }
}
