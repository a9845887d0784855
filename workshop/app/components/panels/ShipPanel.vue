<script setup lang="ts">
import { words } from '~/words/english'
import { useOpenGrid } from '~/stores/open-grid'
import { elementCode } from '~/handover/element-code'
import { installText, mountCode } from '~/handover/mount-code'
import { reactCode } from '~/handover/react-code'
import { vueCode } from '~/handover/vue-code'
import { download as save, fileName } from '~/handover/download'
import { exportGrid } from '~/handover/export-grid'
import { packGrid } from '~/handover/pack-grid'
import { formatBytes } from '~/utils/format'
import { startSentences, type StartSentence } from '~/start/start-sentences'
import type { HandedGrid } from '~/handover/handed-grid'
import { sure } from '@vast-meadow/engine/client'

const grid = useOpenGrid()
const packing = ref(false)
const problem = ref('')
const told = ref('')

const handed = computed<HandedGrid | null>(() => {
  const { start, saved } = grid
  return start && saved ? { title: saved.title, definition: start, origin: saved.origin } : null
})
/** Ship stands beside Build, so that what is arranged is what readers start with. */
const sentences = computed(() =>
  grid.definition && grid.arrangement
    ? startSentences(grid.definition, grid.arrangement, grid.description?.fields ?? [])
    : [],
)

function takeOut({ without }: StartSentence): void {
  if (without.search !== undefined) void grid.startSearch('')
  else grid.change(without)
}

async function download(): Promise<void> {
  packing.value = true
  problem.value = ''
  try {
    const packed = sure(handed.value)
    const zip = await packGrid(packed, await grid.fileForHandover())
    const name = `${fileName(packed.title)}-page.zip`
    save(zip, name)
    told.value = words.shipPanel.unpackItAndServeThe(name, formatBytes(zip.size))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    packing.value = false
  }
}

const stage = useStages(2)

async function exported(): Promise<void> {
  const present = grid.present()
  if (present) await exportGrid(present, (await grid.fileForHandover()) ?? undefined)
}

/** Where rows stay with a service, the zip has none. */
const service = computed(() => {
  const origin = grid.saved?.origin
  return origin?.kind === 'service' || origin?.kind === 'listing' ? origin : null
})
</script>

<template>
  <section v-if="handed">
    <h2>{{ words.shipPanel.ship }}</h2>
    <p class="lead">{{ words.shipPanel.thisVeryGridInA }}</p>
    <h3>{{ words.shipPanel.readersStartWith }}</h3>
    <p v-if="sentences.length === 0" class="soft about">
      {{ words.shipPanel.everyColumnWhereTheDefinition }}
    </p>
    <ul v-else class="start" :aria-label="words.shipPanel.whatReadersStartWith">
      <li v-for="sentence in sentences" :key="sentence.text">
        <span>{{ sentence.text }}</span>
        <button
          type="button"
          class="out"
          :aria-label="words.shipPanel.takeOut(sentence.text)"
          :title="words.shipPanel.takeOut2"
          @click="takeOut(sentence)"
        >
          ×
        </button>
      </li>
    </ul>
    <h3>{{ words.shipPanel.aPageThatRunsAnywhere }}</h3>
    <p class="soft about">
      {{ service ? words.shipPanel.aFolderWithoutRows(service.address) : words.shipPanel.aFolderWithThePage }}
    </p>
    <VBtn color="primary" variant="flat" :loading="packing" @click="download">{{
      words.shipPanel.downloadTheZip
    }}</VBtn>
    <p v-if="told" class="soft about" role="status">{{ told }}</p>
    <p v-if="problem" class="held about" role="alert">{{ problem }}</p>
    <h3>{{ words.shipPanel.forTheWorkshop }}</h3>
    <p class="soft about">{{ words.shipPanel.theGridWithItsRows }}</p>
    <VBtn @click="exported">{{ words.shipPanel.exportTheGrid }}</VBtn>
    <template v-if="stage > 0">
      <h3>{{ words.shipPanel.asACustomElement }}</h3>
      <CodeBlock :code="elementCode(handed)" :label="words.shipPanel.codeForACustomElement" />
    </template>
    <template v-if="stage > 1">
      <h3>{{ words.shipPanel.mountedByAScript }}</h3>
      <CodeBlock :code="mountCode(handed)" :label="words.shipPanel.codeForTypescript" />
      <h3>{{ words.shipPanel.asAVueComponent }}</h3>
      <CodeBlock :code="vueCode(handed)" :label="words.shipPanel.codeForVue" />
      <h3>{{ words.shipPanel.asAReactComponent }}</h3>
      <CodeBlock :code="reactCode(handed)" :label="words.shipPanel.codeForReact" />
      <h3>{{ words.shipPanel.inAProjectOfYours }}</h3>
      <CodeBlock :code="installText(handed)" :label="words.shipPanel.howToInstallThePackages" />
    </template>
  </section>
</template>

<style scoped>
.about {
  margin-block: 6px 8px;
}
.start {
  list-style: none;
  padding: 0;
  margin-block: 6px 4px;
  border-block-start: 1px solid var(--rule);
}
.start li {
  display: flex;
  align-items: start;
  gap: 8px;
  padding-block: 5px;
  border-block-end: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
.start span {
  flex: 1;
}
.out {
  border: 1px solid transparent;
  background: none;
  color: var(--ink-soft);
  inline-size: 24px;
  block-size: 24px;
  border-radius: 6px;
  font-size: 15px;
  line-height: 1;
  cursor: pointer;
}
.out:hover {
  border-color: var(--rule);
  color: var(--ink);
}
</style>
