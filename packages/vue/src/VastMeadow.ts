import {
  defineComponent,
  getCurrentInstance,
  h,
  mergeProps,
  onBeforeUnmount,
  onMounted,
  shallowReactive,
  shallowRef,
  Teleport,
  watch,
  type SlotsType,
} from 'vue'
import type { DefinitionInput } from '@vast-meadow/engine'
import {
  EVENT_NAMES,
  mountMeadow,
  type CellPainter,
  type MeadowEvents,
  type MeadowHandle,
  type MeadowOptions,
  type PaintedCell,
} from '@vast-meadow/grid'
import { slotPainter, type SlottedCell } from './slot-painters.ts'

export interface VastMeadowProps {
  definition?: DefinitionInput
  rows?: MeadowOptions['rows']
  source?: MeadowOptions['source']
  arrangement?: MeadowOptions['arrangement']
  parts?: MeadowOptions['parts']
  texts?: MeadowOptions['texts']
  placement?: MeadowOptions['placement']
  storage?: MeadowOptions['storage']
  clock?: MeadowOptions['clock']
}

/** Each event of the grid is one of the component, with what it tells. */
type Emits = { [Name in keyof MeadowEvents]: (event: MeadowEvents[Name]) => void }
type CellSlots = SlotsType<Record<`cell:${string}`, PaintedCell>>

/**
 * The grid as a Vue component. A slot named `cell:` and a column's key draws that column's cells and is given the
 * `PaintedCell`; all other cells are drawn by the grid alone.
 */
export const VastMeadow = defineComponent<VastMeadowProps, Emits, keyof Emits, CellSlots>(
  (props, { attrs, emit, expose, slots }) => {
    const host = shallowRef<HTMLElement | null>(null)
    const handle = shallowRef<MeadowHandle | null>(null)
    const cells = shallowReactive(new Map<number, SlottedCell>())
    const listens = 'onWhy' in (getCurrentInstance()?.vnode.props ?? {})

    /** Each slot is a painter of its column. */
    const painters = (): Record<string, CellPainter> => {
      const names = Object.keys(slots).filter(name => name.startsWith('cell:'))
      const own: Record<string, CellPainter> = { ...props.parts?.painters }
      for (const name of names) own[name] = slotPainter(() => host.value, name, cells)
      return own
    }

    onMounted(() => {
      const { definition, rows, source, arrangement, texts, placement, storage, clock } = props
      const parts = { ...props.parts, painters: painters() }
      const mounted = mountMeadow(host.value!, {
        definition,
        rows,
        source,
        arrangement,
        texts,
        placement,
        storage,
        clock,
        parts,
      })
      for (const name of EVENT_NAMES) {
        // The grid offers to ask why only where somebody answers.
        if (name === 'why' && !listens) continue
        mounted.on(name, event => (emit as (name: string, event: unknown) => void)(name, event))
      }
      handle.value = mounted
    })
    onBeforeUnmount(() => {
      handle.value?.unmount()
      handle.value = null
    })
    watch([() => props.rows, () => props.source, () => props.definition], (now, before) => {
      const [rows, source, definition] = now
      const given = rows !== before[0] ? rows : source !== before[1] ? source : undefined
      const redefined = definition !== before[2] ? definition : undefined
      if (given) void handle.value?.setRows(given, redefined).catch(() => {})
      else if (redefined) void handle.value?.setDefinition(redefined)
    })
    expose({ handle })

    return () => [
      h('div', mergeProps({ ref: host, class: 'vast-meadow', style: { blockSize: '100%' } }, attrs)),
      [...cells.values()].map(slottedCell => teleported(slottedCell)),
    ]

    function teleported({ id, element, name, cell }: SlottedCell) {
      const slot = slots[name as `cell:${string}`]
      return h(Teleport, { key: id, to: element }, cell && slot ? slot(cell) : [])
    }
  },
  {
    name: 'VastMeadow',
    // The root is a fragment: what is not a prop belongs to the grid's own element.
    inheritAttrs: false,
    props: ['definition', 'rows', 'source', 'arrangement', 'parts', 'texts', 'placement', 'storage', 'clock'],
    emits: [...EVENT_NAMES],
  },
)
