import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'
import { serveStatic, type Served } from './bare-page.ts'

const ROOT = fileURLToPath(new URL('../..', import.meta.url))

/** A host's own code around the Vue component: one column drawn by a slot, styled by the page. */
const SCRIPT = `
import { createApp, h, ref } from 'vue'
import { VastMeadow } from '@vast-meadow/vue'
const rows = Array.from({ length: 800 }, (_, id) => ({ id, state: ['seen', 'lost', 'doubtful'][id % 3] }))
const opening = location.hash === '#open'
const DEFINITION = {
  format: 'vast-meadow-grid', version: 3, key: 'id', detail: { painter: 'card' },
  columns: [{ key: 'id', title: 'Id' }, { key: 'state', title: 'State' }],
}
const start = () => {
  const app = createApp({
    render: () =>
      h(VastMeadow, { rows, definition: opening ? DEFINITION : undefined, style: 'block-size:100%' }, {
        'cell:state': ({ text, row }) => h('span', { class: 'status' }, text + ' ' + row),
        'detail:card': ({ record, close }) =>
          h('p', { class: 'status card' }, ['row ' + record.id, h('button', { onClick: close }, 'Done')]),
      }),
  })
  app.mount('#app')
  return app
}
// As in a development that mounts everything twice, to find out what is left behind.
start().unmount()
window.app = start()
`
const PAGE = `<!doctype html><html lang="en"><meta charset="utf-8"><title>vue</title><link rel="icon" href="data:,">
<style>html,body,#app{height:100%;margin:0}.status::before{content:'';display:inline-block;width:8px;height:8px;background:rgb(1,2,3)}.card{padding:30px;margin:0}</style>
<div id="app"></div><script type="module" src="/page.js"></script>`

/** Serves a page of a Vue application that uses the packages as they are built. */
export async function serveVuePage(): Promise<Served> {
  const folder = mkdtempSync(join(tmpdir(), 'vue-page-'))
  await build({
    stdin: { contents: SCRIPT, resolveDir: join(ROOT, 'packages/vue') },
    outfile: join(folder, 'page.js'),
    bundle: true,
    format: 'esm',
    define: {
      'process.env.NODE_ENV': '"production"',
      __VUE_OPTIONS_API__: 'true',
      __VUE_PROD_DEVTOOLS__: 'false',
      __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: 'false',
    },
    logLevel: 'error',
  })
  writeFileSync(join(folder, 'index.html'), PAGE)
  return await serveStatic(folder)
}
