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
  type SlotsType,
  type VNodeArrayChildren,
} from 'vue'
import type { DefinitionInput } from '@vast-meadow/engine'
import {
  EVENT_NAMES,
  followOptions,
  mountMeadow,
  type CellPainter,
  type DetailPainter,
  type MeadowEvents,
  type MeadowHandle,
  type MeadowOptions,
  type PaintedCell,
  type PaintedDetail,
} from '@vast-meadow/grid'
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
  /** The mounted grid; null before and after. */
  readonly handle: MeadowHandle<Row> | null
}

/** Each event of the grid is one of the component, with what it tells. */
type Emits = { [Name in keyof MeadowEvents]: (event: MeadowEvents[Name]) => void }
type PlaceSlots = SlotsType<Record<`cell:${string}`, PaintedCell> & Record<`detail:${string}`, PaintedDetail>>

/**
 * The grid as a Vue component. A slot named `cell:` and a column's key draws that column's cells and is given the
 * `PaintedCell`; all other cells are drawn by the grid alone. One named `detail:` and the painter's name in the
 * definition's `detail` draws what open rows show, and is given the `PaintedDetail`.
 */
export const VastMeadow = defineComponent<VastMeadowProps, Emits, keyof Emits, PlaceSlots>(
  (props, { attrs, emit, expose, slots }) => {
    const host = shallowRef<HTMLElement | null>(null)
    const handle = shallowRef<MeadowHandle | null>(null)
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

    function mount(options: MeadowOptions): void {
      if (!host.value) return
      handle.value?.unmount()
      const mounted = mountMeadow(host.value, options)
      for (const name of EVENT_NAMES) {
        // The grid offers to ask why only where somebody answers.
        if (name === 'why' && !listens) continue
        mounted.on(name, event => (emit as (name: string, event: unknown) => void)(name, event))
      }
      handle.value = mounted
      drawnBySlots = slotNames().join()
    }

    /** What a grid is made with changed: it is made anew, arranged as it was. */
    const mountAnew = (): void =>
      mount({
        ...optionsNow(),
        arrangement: handle.value?.definition ? handle.value.arrangement : props.arrangement,
      })

    let drawnBySlots = ''
    onMounted(() => mount(optionsNow()))
    onUpdated(() => {
      if (slotNames().join() !== drawnBySlots) mountAnew()
    })
    onBeforeUnmount(() => {
      handle.value?.unmount()
      handle.value = null
    })
    watch(
      () => ({ ...props }),
      (now, before) => {
        if (handle.value && !followOptions(handle.value, before, now)) mountAnew()
      },
      { flush: 'post' },
    )
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
    emits: [...EVENT_NAMES],
  },
)
