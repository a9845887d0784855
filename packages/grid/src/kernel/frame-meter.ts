/** What caused a frame: a scroll, a change of the arrangement, or anything else that was drawn. */
export type FrameCause = 'scroll' | 'change' | 'other'

/** Milliseconds until a frame was painted, by what caused it. */
export type FrameTimes = Readonly<Partial<Record<FrameCause, number>>>

/** Times frames from the event that caused them until they were painted. */
export class FrameMeter {
  private readonly channel = new MessageChannel()
  private readonly started = new Map<FrameCause, number>()
  private readonly painted: (times: FrameTimes) => void

  constructor(painted: (times: FrameTimes) => void) {
    this.painted = painted
    this.channel.port1.onmessage = () => {
      const now = performance.now()
      const times = Object.fromEntries([...this.started].map(([cause, at]) => [cause, now - at]))
      this.started.clear()
      this.painted(times)
    }
  }

  /** A frame's work begins. Its end is the first task after the next animation frame: style, layout and paint are done by then. */
  begin(cause: FrameCause, at = performance.now()): void {
    if (this.started.size === 0) requestAnimationFrame(() => this.channel.port2.postMessage(0))
    if (!this.started.has(cause)) this.started.set(cause, at)
  }

  dispose(): void {
    this.channel.port1.close()
    this.channel.port2.close()
  }
}
