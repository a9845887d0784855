/**
 * Maps a body of any height onto the height that a browser can scroll. Elements end at 2^25 physical px and
 * `scrollTop` loses whole px above 2^23, so a tall body gets a *track* of about 4 million px. The true offset is
 * kept here as a double: small scroll steps move it by the same distance, large ones (the thumb) place it by a map
 * that is 1:1 near both ends, so that both ends are exact.
 */
const TRACK_PX = 4_000_000
const MIN_TRACK_PX = 1_500_000
/** Share of the track at each end that is mapped 1:1. */
const END_SHARE = 1 / 8
/** A step longer than this share of the track comes from the thumb. One thumb px is about twice as much. */
const STEP_SHARE = 1 / 1600

export class ScrollMap {
  /** Height of the whole body in CSS px. */
  private bodyHeight = 0
  private viewHeight = 0
  private trackHeight = 0
  private trueOffset = 0
  private lastScrollTop = 0

  /** Takes the sizes; the true offset stays where the body still reaches it. Returns the track's height in px. */
  resize(bodyHeight: number, viewHeight: number, pixelRatio: number): number {
    this.bodyHeight = bodyHeight
    this.viewHeight = viewHeight
    this.trackHeight = Math.min(bodyHeight, Math.max(MIN_TRACK_PX, Math.round(TRACK_PX / pixelRatio)))
    this.trueOffset = this.clamp(this.trueOffset)
    return this.trackHeight
  }

  /** Offset of the view's top edge from the body's, in CSS px; a double. */
  get offset(): number {
    return this.trueOffset
  }

  /** Largest offset: the last line stands flush with the view's lower edge. */
  get maxOffset(): number {
    return Math.max(0, this.bodyHeight - this.viewHeight)
  }

  /** Takes a new native scroll position; returns the new true offset. */
  scrolled(scrollTop: number): number {
    const step = scrollTop - this.lastScrollTop
    this.lastScrollTop = scrollTop
    const maxScroll = this.trackHeight - this.viewHeight
    if (!this.squeezed) this.trueOffset = this.clamp(scrollTop)
    else if (scrollTop <= 0) this.trueOffset = 0
    else if (scrollTop >= maxScroll - 1) this.trueOffset = this.maxOffset
    else if (Math.abs(step) <= Math.max(this.viewHeight, this.trackHeight * STEP_SHARE)) {
      this.trueOffset = this.clamp(this.trueOffset + step)
    } else this.trueOffset = this.toBody(scrollTop)
    return this.trueOffset
  }

  /** Sets the true offset; returns the native position that stands for it. */
  moveTo(offset: number): number {
    this.trueOffset = this.clamp(offset)
    return this.anchor()
  }

  /** The native position that stands for the present offset: write it, then report what was read back. */
  anchor(): number {
    return this.toTrack(this.trueOffset)
  }

  /** Tells what the scroller holds after a write; browsers round it to physical px. */
  wrote(scrollTop: number): void {
    this.lastScrollTop = scrollTop
  }

  private clamp(offset: number): number {
    return Math.min(Math.max(0, offset), this.maxOffset)
  }

  private get squeezed(): boolean {
    return this.trackHeight < this.bodyHeight
  }

  private toBody(scrollTop: number): number {
    const end = this.trackHeight * END_SHARE
    const trackMax = this.trackHeight - this.viewHeight
    const bodyMax = this.maxOffset
    if (scrollTop <= end) return scrollTop
    if (scrollTop >= trackMax - end) return bodyMax - (trackMax - scrollTop)
    return end + ((scrollTop - end) * (bodyMax - 2 * end)) / (trackMax - 2 * end)
  }

  private toTrack(offset: number): number {
    if (!this.squeezed) return offset
    const end = this.trackHeight * END_SHARE
    const trackMax = this.trackHeight - this.viewHeight
    const bodyMax = this.maxOffset
    if (offset <= end) return offset
    if (offset >= bodyMax - end) return trackMax - (bodyMax - offset)
    return end + ((offset - end) * (trackMax - 2 * end)) / (bodyMax - 2 * end)
  }
}
