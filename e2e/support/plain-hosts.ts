// Hosts that render an empty list first, then give the definition late, keep everything in their framework's own state
// and hand out a new list with every rendering.

/** What they have in common. */
export const TREES = `
export interface Tree { readonly id: number; readonly name: string; readonly height: number }
export let ROWS: readonly Tree[] = Array.from({ length: 6000 }, (_, id) => ({ id, name: 'tree ' + id, height: id % 7 }))
export const DEFINITION = {
  format: 'vast-meadow-grid', version: 3, title: 'Trees', key: 'id',
  columns: [{ key: 'id', title: 'Number' }, { key: 'name', title: 'Tree' }, { key: 'height', title: 'Height m' }],
  start: { order: [{ column: 'height', direction: 'descending' }] },
} satisfies DefinitionInput
import type { DefinitionInput, MeadowHandle } from '@vast-meadow/grid'
export interface Act {
  give?: () => void
  remount?: () => void
  /** From now on there are so few rows that no worker is started for them. */
  few: () => void
  renders: number
  handle: MeadowHandle<Tree> | null
  unlucky?: boolean
}
export const act: Act = { renders: 0, handle: null, few: () => { ROWS = ROWS.slice(0, 600) } }
Object.assign(window, { act })
`

const hosts: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  // Everything is written anew with every rendering.
  react: {
    'main.tsx': `
import { StrictMode, useState } from 'react'
import { createRoot } from 'react-dom/client'
import { useArrangement, useSelectedCount, VastMeadow, type MeadowHandle } from '@vast-meadow/react'
import { act, DEFINITION, ROWS, type Tree } from './trees'

function App() {
  const [given, give] = useState(false)
  const [round, setRound] = useState(0)
  const [felled, fell] = useState(0)
  const [passing, setPassing] = useState(0)
  const [grid, setGrid] = useState<MeadowHandle<Tree> | null>(null)
  const [arrangement, arrange] = useArrangement(grid)
  const selected = useSelectedCount(grid)
  act.renders++
  act.give = () => give(true)
  act.remount = () => setRound(before => before + 1)
  act.handle = grid
  return <>
    <output>{felled} felled, {selected} selected, {passing} passing, by {arrangement?.order.map(({ column }) => column).join() ?? 'nothing'}</output>
    <button onClick={() => arrange({ order: [{ column: 'name', direction: 'ascending' }] })}>by name</button>
    <VastMeadow<Tree> key={round} ref={setGrid} style={{ height: 400 }} rows={given ? ROWS.map(row => ({ ...row })) : []}
      definition={given ? { ...DEFINITION } : undefined}
      cells={{ height: ({ text, valueOf }) => {
        if (act.unlucky && valueOf('id') === 13) throw new Error('unlucky')
        return <button className="fell" onClick={() => fell(before => before + 1)}>{text} m, {felled}</button>
      } }}
      onFlow={({ report }) => setPassing(report.passing)} onRow={({ record }) => console.log(record.name)} />
  </>
}
const root = document.querySelector('#app')
if (root) createRoot(root).render(<StrictMode><App /></StrictMode>)
`,
  },
  element: {
    'main.tsx': `
import type {} from '@vast-meadow/grid/react'
import '@vast-meadow/grid/element'
import type { VastMeadowElement } from '@vast-meadow/grid/element'
import { useState } from 'react'
import { createRoot } from 'react-dom/client'
import { act, DEFINITION, ROWS } from './trees'

function App() {
  const [given, give] = useState(false)
  const [round, setRound] = useState(0)
  const [selected, setSelected] = useState(0)
  act.renders++
  act.give = () => give(true)
  act.remount = () => setRound(before => before + 1)
  const take = (element: VastMeadowElement | null) => void (act.handle = element?.handle ?? null)
  return <>
    <p>{selected}</p>
    <vast-meadow key={round} ref={take} style={{ height: 400 }} rows={given ? [...ROWS] : []}
      definition={given ? { ...DEFINITION } : undefined} onmeadow-selection={event => setSelected(event.detail.count)} />
  </>
}
const root = document.querySelector('#app')
if (root) createRoot(root).render(<App />)
`,
  },
  svelte: {
    'App.svelte': `
<script lang="ts">
  import { mountMeadow, type DefinitionInput } from '@vast-meadow/grid'
  import { act, DEFINITION, ROWS, type Tree } from './trees'
  let rows: Tree[] = $state([])
  let definition: DefinitionInput | null = $state(null)
  let round = $state(0)
  act.give = () => { rows = ROWS.map(row => ({ ...row })); definition = { ...DEFINITION } }
  act.remount = () => void round++
  function grid(host: HTMLElement) {
    const handle = (act.handle = mountMeadow<Tree>(host))
    $effect(() => void handle.setRows(rows))
    $effect(() => void handle.setDefinition(definition))
    return { destroy: () => handle.unmount() }
  }
</script>
{#key round}<div use:grid style="height: 400px"></div>{/key}
`,
    'main.ts': `
import { mount } from 'svelte'
import App from './App.svelte'
const target = document.querySelector('#app')
if (target) mount(App, { target })
`,
  },
  vue: {
    'main.ts': `
import { createApp, defineComponent, h, ref, shallowRef } from 'vue'
import { VastMeadow, type DefinitionInput, type VastMeadowExposed } from '@vast-meadow/vue'
import { act, DEFINITION, ROWS, type Tree } from './trees'
const App = defineComponent(() => {
  const rows = ref<Tree[]>([])
  const definition = ref<DefinitionInput>()
  const round = ref(0)
  const grid = shallowRef<VastMeadowExposed<Tree> | null>(null)
  act.give = () => { rows.value = ROWS.map(row => ({ ...row })); definition.value = { ...DEFINITION } }
  act.remount = () => void round.value++
  Object.defineProperty(act, 'handle', { get: () => grid.value?.handle ?? null })
  return () => { act.renders++; return h(VastMeadow, { key: round.value, ref: grid, rows: rows.value, definition: definition.value, style: 'height: 400px' }) }
})
createApp(App).mount('#app')
`,
  },
}

/** Those that show their first rows before the grid is loaded have the same component by another name. */
export const HOSTS: typeof hosts = {
  ...hosts,
  'react-first': {
    'main.tsx': hosts.react['main.tsx'].replace('@vast-meadow/react', '@vast-meadow/react/first'),
  },
  'vue-first': { 'main.ts': hosts.vue['main.ts'].replace('@vast-meadow/vue', '@vast-meadow/vue/first') },
}
