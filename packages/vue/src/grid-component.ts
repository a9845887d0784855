import {
  defineComponent,
  getCurrentInstance,
  h,
  mergeProps,
  onBeforeUnmount,
  onMounted,
  onUpdated,
  shallowReactive,
  shallowRef,
  Teleport,
  watch,
  type DefineSetupFnComponent,
  type SlotsType,
  type VNodeArrayChildren,
} from 'vue'
import type { DefinitionInput } from '@vast-meadow/engine'
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
import { slotPainter, type Slotted } from './slot-painters.ts'

export interface VastMeadowProps {
  definition?: DefinitionInput
  rows?: MeadowOptions['rows']
  source?: MeadowOptions['source']
  arrangement?: MeadowOptions['arrangement']
  parts?: MeadowOptions['parts']
  texts?: MeadowOptions['texts']
  locale?: MeadowOptions['locale']
  placement?: MeadowOptions['placement']
  storage?: MeadowOptions['storage']
  unsaved?: MeadowOptions['unsaved']
  allow?: MeadowOptions['allow']
  link?: MeadowOptions['link']
  place?: MeadowOptions['place']
  clock?: MeadowOptions['clock']
}

/** What a template reference to the component gives. */
export interface VastMeadowExposed<Row extends object = object> {
  /** The mounted grid; null before, where it is loaded behind its first rows until it is there, and after. */
  readonly handle: MeadowHandle<Row> | null
}

/** Each event of the grid is one of the component, with what it tells. */
type Emits = { [Name in keyof MeadowEvents]: (event: MeadowEvents[Name]) => void }
type PlaceSlots = SlotsType<Record<`cell:${string}`, PaintedCell> & Record<`detail:${string}`, PaintedDetail>>

export type GridComponent = DefineSetupFnComponent<VastMeadowProps, Emits, PlaceSlots>

/** The component, by how it comes to its grid. */
export const gridComponent = (opening: Opening): GridComponent =>
  defineComponent<VastMeadowProps, Emits, keyof Emits, PlaceSlots>(
    (props, { attrs, emit, expose, slots }) => {
      const host = shallowRef<HTMLElement | null>(null)
      const handle = shallowRef<MeadowHandle | null>(null)
      let opened: Opened | null = null
      /** What the grid was told last. */
      let followed: MeadowOptions = {}
      /** Gives up what is mounted, or on its way. */
      let leaving = new AbortController()
      const places = shallowReactive(new Map<number, Slotted>())
      const listens = 'onWhy' in (getCurrentInstance()?.vnode.props ?? {})

      /** Slots that draw cells, and what open rows show. */
      const slotNames = (): string[] => Object.keys(slots).filter(name => /^(cell|detail):/.test(name))

      const optionsNow = (): MeadowOptions => {
        // Each slot is a painter of its column, or of details.
        const painters: Record<string, CellPainter> = { ...props.parts?.painters }
        // What the host gives stays as it is: it may be more than a plain list.
        const details = Object.create(props.parts?.details ?? null) as Record<string, DetailPainter>
        for (const name of slotNames()) {
          const painter = slotPainter(() => host.value, name, places)
          if (name.startsWith('cell:')) painters[name] = painter
          else details[name.slice('detail:'.length)] = painter
        }
        return { ...props, parts: { ...props.parts, painters, details } }
      }

      /** Where the grid is loaded first: what is answered is there when it is. */
      function mount(options: MeadowOptions): Promise<void> | undefined {
        if (!host.value) return
        leave()
        const mine = leaving
        drawnBySlots = slotNames().join()
        followed = { ...props }
        const take = (now: Opened): void => {
          opened = now
          for (const name of opening.events) {
            // The grid offers to ask why only where somebody answers.
            if (name === 'why' && !listens) continue
            now.grid.on(name, event => (emit as (name: string, event: unknown) => void)(name, event))
          }
          handle.value = now.grid
        }
        const coming = opening.open(host.value, options, mine.signal)
        if (!(coming instanceof Promise)) take(coming)
        else
          return coming.then(
            now => {
              take(now)
              // Meanwhile the host may have said something else.
              return followAlong()
            },
            (error: unknown) => {
              if (!mine.signal.aborted) throw error
            },
          )
      }

      function leave(): void {
        leaving.abort()
        leaving = new AbortController()
        opened?.grid.unmount()
        opened = null
        handle.value = null
      }

      function followAlong(): Promise<void> | undefined {
        if (!opened) return
        const before = followed
        followed = { ...props }
        if (!opened.follow(opened.grid, before, followed)) return mountAnew()
      }

      /** What a grid is made with changed: it is made anew, arranged as it was. */
      const mountAnew = (): Promise<void> | undefined =>
        mount({
          ...optionsNow(),
          arrangement: handle.value?.definition ? handle.value.arrangement : props.arrangement,
        })

      let drawnBySlots = ''
      onMounted(() => mount(optionsNow()))
      onUpdated(() => (slotNames().join() === drawnBySlots ? undefined : mountAnew()))
      onBeforeUnmount(leave)
      watch(() => ({ ...props }), followAlong, { flush: 'post' })
      expose({ handle })

      return () => [
        h('div', mergeProps({ ref: host, class: 'vast-meadow', style: { blockSize: '100%' } }, attrs)),
        [...places.values()].map(slotted => teleported(slotted)),
      ]

      function teleported({ id, element, name, painted }: Slotted) {
        // A slot is given what its own painter paints.
        const slot = slots[name as `cell:${string}`] as ((given: Slotted['painted']) => unknown[]) | undefined
        return h(
          Teleport,
          { key: id, to: element },
          painted && slot ? (slot(painted) as VNodeArrayChildren) : [],
        )
      }
    },
    {
      name: 'VastMeadow',
      // The root is a fragment: what is not a prop belongs to the grid's own element.
      inheritAttrs: false,
      // Their types are those of `VastMeadowProps`; what they hold is checked by the grid.
      /* eslint-disable vue/require-prop-types */
      props: [
        'definition',
        'rows',
        'source',
        'arrangement',
        'parts',
        'texts',
        'locale',
        'placement',
        'storage',
        'unsaved',
        'allow',
        'link',
        'place',
        'clock',
      ],
      /* eslint-enable vue/require-prop-types */
      emits: [...opening.events],
    },
  )
