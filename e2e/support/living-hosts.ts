// Pages with a life around the grid, in each framework's own way: three grids, of which one stands in a dialog and one in
// a tab that is shown later; cells of the page's own, edits that the page saves, an arrangement that is kept.

/** What the pages have in common. */
export const PLANTS = `
import { localArrangements, type CellPainter, type ChangeList, type DefinitionInput } from '@vast-meadow/grid'
export interface Plant { readonly id: number; readonly name: string; readonly height: number }
export const ROWS: readonly Plant[] = Array.from({ length: 400 }, (_, id) => ({ id, name: 'plant ' + id, height: id % 9 }))
export const DEFINITION = {
  format: 'vast-meadow-grid', version: 3, title: 'Plants', key: 'id', arrangements: true,
  columns: [{ key: 'id', title: 'No', width: 90 }, { key: 'name', title: 'Name', width: 160, edit: {} }, { key: 'height', title: 'Height', width: 120 }],
  editing: { save: 'cell' },
} satisfies DefinitionInput
export const saved: ChangeList[] = []
export const save = async (changes: ChangeList) => { saved.push(changes); return {} }
export const storage = localArrangements('plants')
export const metres: CellPainter<HTMLElement> = {
  create: cell => { const own = document.createElement('i'); own.className = 'own'; cell.append(own); return own },
  update: (own, { text }) => void (own.textContent = text + ' m'),
}
Object.assign(globalThis, { saved })
`

/** Around the grids: a page turned round, made smaller, with styles that mean well for the rest of it. */
export const PAGE_STYLES = `
* { box-sizing: content-box !important; float: none }
div, span, button, input, table, td { font: 31px/3 serif !important; letter-spacing: 3px; text-transform: uppercase; color: rgb(200, 0, 0); text-align: right }
input, button { margin: 13px !important; min-height: 90px; border: 9px solid !important }
.row, .cell, .body, .foot, .bar, .view { display: inline !important; position: static !important; float: left !important; padding: 40px !important }
#app { font-size: 13px; --meadow-selected: rgb(1, 2, 3) }
.small { transform: scale(0.75); transform-origin: 0 0; inline-size: 800px }
.place { block-size: 300px; inline-size: 700px }
.own { font: 13px/1 sans-serif !important; padding: 0 }
`

export const LIVING: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  react: {
    'main.tsx': `
import { useRef, useState } from 'react'
import { createRoot } from 'react-dom/client'
import { VastMeadow } from '@vast-meadow/react/first'
import { DEFINITION, ROWS, save, storage, type Plant } from './plants'
function App() {
  const dialog = useRef<HTMLDialogElement>(null)
  const [open, setOpen] = useState(false)
  const [tab, show] = useState(false)
  return <>
    <button id="open" onClick={() => { setOpen(true); dialog.current?.showModal() }}>open</button>
    <button id="tab" onClick={() => show(true)}>tab</button>
    <div className="small"><div className="place" id="first">
      <VastMeadow<Plant> rows={ROWS} definition={DEFINITION} storage={storage} parts={{ save }}
        cells={{ height: ({ text }) => <i className="own">{text} m</i> }} />
    </div></div>
    <dialog ref={dialog} onClose={() => setOpen(false)}>
      <div className="place" id="second">{open && <VastMeadow<Plant> rows={ROWS} definition={DEFINITION} />}</div>
    </dialog>
    <div hidden={!tab}><div className="place" id="third"><VastMeadow<Plant> rows={ROWS} definition={DEFINITION} /></div></div>
  </>
}
const root = document.querySelector('#app')
if (root) createRoot(root).render(<App />)
`,
  },
  vue: {
    'main.ts': `
import { createApp, defineComponent, h, ref } from 'vue'
import { VastMeadow, type PaintedCell } from '@vast-meadow/vue/first'
import { DEFINITION, ROWS, save, storage } from './plants'
const App = defineComponent(() => {
  const dialog = ref<HTMLDialogElement>()
  const open = ref(false)
  const tab = ref(false)
  const grid = (more: object, slots = {}) => h(VastMeadow, { rows: [...ROWS], definition: DEFINITION, ...more }, slots)
  return () => [
    h('button', { id: 'open', onClick: () => { open.value = true; dialog.value?.showModal() } }, 'open'),
    h('button', { id: 'tab', onClick: () => { tab.value = true } }, 'tab'),
    h('div', { class: 'small' }, h('div', { class: 'place', id: 'first' },
      grid({ storage, parts: { save } }, { 'cell:height': ({ text }: PaintedCell) => h('i', { class: 'own' }, text + ' m') }))),
    h('dialog', { ref: dialog, onClose: () => { open.value = false } }, h('div', { class: 'place', id: 'second' }, open.value ? grid({}) : undefined)),
    h('div', { hidden: !tab.value }, h('div', { class: 'place', id: 'third' }, grid({}))),
  ]
})
createApp(App).mount('#app')
`,
  },
  svelte: {
    'App.svelte': `
<script lang="ts">
  import { mountMeadow, type MeadowOptions } from '@vast-meadow/grid'
  import { DEFINITION, metres, ROWS, save, storage, type Plant } from './plants'
  let dialog: HTMLDialogElement
  let open = $state(false)
  let tab = $state(false)
  function grid(host: HTMLElement, more: MeadowOptions<Plant> = {}) {
    const handle = mountMeadow<Plant>(host, { rows: ROWS, definition: DEFINITION, ...more })
    return { destroy: () => handle.unmount() }
  }
</script>
<button id="open" onclick={() => { open = true; dialog.showModal() }}>open</button>
<button id="tab" onclick={() => (tab = true)}>tab</button>
<div class="small"><div class="place" id="first" use:grid={{ storage, parts: { save, painters: { 'cell:height': metres } } }}></div></div>
<dialog bind:this={dialog} onclose={() => (open = false)}>{#if open}<div class="place" id="second" use:grid></div>{/if}</dialog>
<div hidden={!tab}><div class="place" id="third" use:grid></div></div>
`,
    'main.ts': `
import { mount } from 'svelte'
import App from './App.svelte'
const target = document.querySelector('#app')
if (target) mount(App, { target })
`,
  },
  element: {
    'main.ts': `
import '@vast-meadow/grid/element'
import { DEFINITION, metres, ROWS, save, storage } from './plants'
const app = document.querySelector('#app')!
app.innerHTML = \`<button id="open">open</button><button id="tab">tab</button>
<div class="small"><div class="place" id="first"></div></div>
<dialog><div class="place" id="second"></div></dialog>
<div hidden id="later"><div class="place" id="third"></div></div>\`
const grid = (id: string, more: object = {}) => {
  const element = document.createElement('vast-meadow')
  Object.assign(element, { rows: ROWS, definition: DEFINITION, ...more })
  document.querySelector('#' + id)!.append(element)
}
grid('first', { storage, parts: { save, painters: { 'cell:height': metres } } })
grid('third')
document.querySelector<HTMLElement>('#open')!.onclick = () => { grid('second'); document.querySelector('dialog')!.showModal() }
document.querySelector<HTMLElement>('#tab')!.onclick = () => { document.querySelector<HTMLElement>('#later')!.hidden = false }
`,
  },
}

/** Pages that a server renders, and that come to life in the browser. */
export const RENDERED: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  react: {
    'App.tsx': `
import { useArrangement, VastMeadow, type MeadowHandle } from '@vast-meadow/react/first'
import { useState } from 'react'
import { DEFINITION, ROWS, type Plant } from './plants'
export function App() {
  const [grid, setGrid] = useState<MeadowHandle<Plant> | null>(null)
  const [arrangement] = useArrangement(grid)
  return <>
    <h1>Plants</h1>
    <output>{arrangement?.order.map(({ column }) => column).join() || 'as they came'}</output>
    <VastMeadow<Plant> ref={setGrid} id="first" className="place" style={{ height: 300 }} rows={ROWS} definition={DEFINITION} cells={{ height: ({ text }) => <i className="own">{text} m</i> }} />
  </>
}
`,
    'server.tsx': `
import { renderToString } from 'react-dom/server'
import { App } from './App'
console.log(renderToString(<App />))
`,
    'main.tsx': `
import { hydrateRoot } from 'react-dom/client'
import { App } from './App'
hydrateRoot(document.querySelector('#app')!, <App />)
`,
  },
  vue: {
    'App.ts': `
import { defineComponent, h, ref } from 'vue'
import { VastMeadow, type PaintedCell } from '@vast-meadow/vue/first'
import { DEFINITION, ROWS } from './plants'
export const App = defineComponent(() => {
  const order = ref('')
  return () => [
    h('h1', 'Plants'),
    h('output', order.value || 'as they came'),
    h(VastMeadow, { id: 'first', class: 'place', style: 'height: 300px', rows: [...ROWS], definition: DEFINITION,
      onArrangement: ({ arrangement }: { arrangement: { order: readonly { column: string }[] } }) => { order.value = arrangement.order.map(({ column }) => column).join() },
    }, { 'cell:height': ({ text }: PaintedCell) => h('i', { class: 'own' }, text + ' m') }),
  ]
})
`,
    'server.ts': `
import { createSSRApp } from 'vue'
import { renderToString } from 'vue/server-renderer'
import { App } from './App'
console.log(await renderToString(createSSRApp(App)))
`,
    'main.ts': `
import { createSSRApp } from 'vue'
import { App } from './App'
createSSRApp(App).mount('#app')
`,
  },
}
