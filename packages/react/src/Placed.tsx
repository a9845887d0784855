import { Component, useSyncExternalStore, type ReactNode } from 'react'
import type { PaintedCell, PaintedDetail } from '@vast-meadow/grid'
import type { Place } from './places.ts'

type Painted = PaintedCell | PaintedDetail
/** Draws what stands in a place. */
export type Draw = (painted: never) => ReactNode

/** What a place shows; it is drawn anew when the grid puts another row there. */
export function Placed({ place, draw }: { readonly place: Place; readonly draw: Draw }): ReactNode {
  const { now, subscribe } = place.painted
  const painted = useSyncExternalStore(subscribe, now, now)
  return (
    painted && (
      <Guarded painted={painted}>
        <Drawn painted={painted} draw={draw} />
      </Guarded>
    )
  )
}

/** Within the guard, so that what the function throws is caught. */
const Drawn = ({ painted, draw }: { readonly painted: Painted; readonly draw: Draw }): ReactNode =>
  draw(painted as never)

interface Guard {
  readonly painted: Painted
  readonly children: ReactNode
}

/** One cell that cannot be drawn shows its text, and takes nothing else of the page down. */
class Guarded extends Component<Guard, { readonly failed: boolean }> {
  override state = { failed: false }

  static getDerivedStateFromError(): { readonly failed: true } {
    return { failed: true }
  }

  override componentDidUpdate({ painted }: Guard): void {
    if (this.state.failed && painted !== this.props.painted) this.setState({ failed: false })
  }

  override render(): ReactNode {
    const { painted, children } = this.props
    if (!this.state.failed) return children
    return 'text' in painted ? painted.text : null
  }
}
