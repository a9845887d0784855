import {
  forwardRef,
  useEffect,
  useImperativeHandle,
  useLayoutEffect,
  useReducer,
  useRef,
  useState,
  useSyncExternalStore,
  type CSSProperties,
  type ForwardedRef,
  type ReactElement,
  type ReactNode,
  type RefAttributes,
} from 'react'
import { createPortal } from 'react-dom'
import type {
  CellPainter,
  DetailPainter,
  MeadowEvents,
  MeadowHandle,
  MeadowOptions,
  PaintedCell,
  PaintedDetail,
} from '@vast-meadow/grid'
import type { Opened, Opening } from '@vast-meadow/grid/first'
import { Placed, type Draw } from './Placed.tsx'
import { Places } from './places.ts'

/** Each event of the grid by `on` and its name, with what it tells. */
type Listeners<Row extends object> = {
  readonly [Name in keyof MeadowEvents<Row> as `on${Capitalize<Name>}`]?: (
    event: MeadowEvents<Row>[Name],
  ) => void
}

export interface VastMeadowProps<Row extends object = object> extends MeadowOptions<Row>, Listeners<Row> {
  /** By column: draws its cells. All others are drawn by the grid alone. */
  readonly cells?: Readonly<Record<string, (cell: PaintedCell) => ReactNode>>
  /** By the painter's name in the definition's `detail`: draws what open rows show. */
  readonly details?: Readonly<Record<string, (detail: PaintedDetail<Row>) => ReactNode>>
  readonly className?: string
  /** Its height is that of the grid; default: that of the element around it. */
  readonly style?: CSSProperties
  readonly id?: string
}

const FILLING: CSSProperties = { blockSize: '100%' }

/** Functions that draw, by the names that their painters have in the grid. */
const drawsOf = ({ cells, details }: VastMeadowProps): Record<string, Draw> =>
  Object.fromEntries([
    ...Object.entries(cells ?? {}).map(([column, draw]) => [`cell:${column}`, draw]),
    ...Object.entries(details ?? {}).map(([name, draw]) => [`detail:${name}`, draw]),
  ])

const listenerName = (name: string): string => `on${name[0].toUpperCase()}${name.slice(1)}`

/** What the grid is given: listeners and functions that draw are looked up when they are needed, and not held on to. */
const givenOf = <Row extends object>(props: VastMeadowProps<Row>): MeadowOptions<Row> =>
  Object.fromEntries(
    Object.entries(props).filter(([name]) => !/^on[A-Z]/.test(name) && !OWN.has(name)),
  ) as MeadowOptions<Row>

const OWN = new Set(['cells', 'details', 'className', 'style', 'id'])

function useGrid<Row extends object>(
  opening: Opening,
  props: VastMeadowProps<Row>,
  ref: ForwardedRef<MeadowHandle<Row>>,
): ReactElement {
  const host = useRef<HTMLDivElement>(null)
  const latest = useRef(props)
  const followed = useRef<MeadowOptions>({})
  /** What was arranged before the grid is made anew. */
  const kept = useRef<MeadowOptions['arrangement']>(undefined)
  const [places] = useState(() => new Places())
  const [opened, setOpened] = useState<Opened<Row> | null>(null)
  const handle = opened?.grid ?? null
  const [round, mountAnew] = useReducer((before: number) => before + 1, 0)
  const draws = drawsOf(props as VastMeadowProps)
  const names = Object.keys(draws).join()
  const isAsked = props.onWhy !== undefined

  useLayoutEffect(() => {
    latest.current = props
  })

  function optionsNow(): MeadowOptions<Row> {
    const { parts, ...given } = givenOf(latest.current)
    const painters: Record<string, CellPainter> = { ...parts?.painters }
    // What the host gives stays as it is: it may be more than a plain list.
    const ours = Object.create(parts?.details ?? null) as Record<string, DetailPainter>
    for (const name of Object.keys(drawsOf(latest.current as VastMeadowProps))) {
      const painter = places.painter(() => host.current, name)
      if (name.startsWith('cell:')) painters[name] = painter
      else ours[name.slice('detail:'.length)] = painter
    }
    return { ...given, parts: { ...parts, painters, details: ours } }
  }

  useEffect(() => {
    if (!host.current) return
    const leaving = new AbortController()
    const options = optionsNow()
    const arrangement = kept.current ?? options.arrangement
    followed.current = givenOf(latest.current)
    const take = (now: Opened<Row>): void => {
      for (const name of opening.events) {
        // The grid offers to ask why only where somebody answers.
        if (name === 'why') continue
        now.grid.on(name, event => {
          const listener = latest.current[listenerName(name) as keyof Listeners<Row>]
          ;(listener as ((event: unknown) => void) | undefined)?.(event)
        })
      }
      leaving.signal.addEventListener('abort', () => {
        kept.current = now.grid.definition ? now.grid.arrangement : undefined
        now.grid.unmount()
      })
      setOpened(now)
    }
    const now = opening.open<Row>(host.current, { ...options, arrangement }, leaving.signal)
    if (now instanceof Promise)
      now.then(take, (error: unknown) => {
        // What a component throws while it renders reaches the boundary that the host has for it.
        if (!leaving.signal.aborted)
          setOpened(() => {
            throw error
          })
      })
    else take(now)
    return () => {
      leaving.abort()
      setOpened(null)
    }
    // What draws cells is a part of what the grid is made with; all else it is told.
  }, [round, names])

  useEffect(() => {
    if (!opened) return
    const before = followed.current
    const now = givenOf(props)
    followed.current = now
    if (!opened.follow(opened.grid, before, now)) mountAnew()
  })

  // The grid offers to ask why only where somebody answers.
  useEffect(
    () => (isAsked ? handle?.on('why', event => latest.current.onWhy?.(event)) : undefined),
    [handle, isAsked],
  )

  useImperativeHandle(ref, () => handle as MeadowHandle<Row>, [handle])
  const drawn = useSyncExternalStore(places.subscribe, places.now, places.now)
  const { className = '', style, id } = props
  return (
    <>
      <div ref={host} id={id} className={`vast-meadow ${className}`.trimEnd()} style={style ?? FILLING} />
      {drawn.map(place => {
        const draw = draws[place.name]
        return draw && createPortal(<Placed place={place} draw={draw} />, place.element, String(place.id))
      })}
    </>
  )
}

/** The component, by how it comes to its grid. */
export const gridComponent = (opening: Opening) =>
  forwardRef(function VastMeadow(props: VastMeadowProps, ref: ForwardedRef<MeadowHandle>) {
    return useGrid(opening, props, ref)
  }) as <Row extends object = object>(
    props: VastMeadowProps<Row> & RefAttributes<MeadowHandle<Row>>,
  ) => ReactElement
