<script setup lang="ts">
import { words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { useHandOver } from '~/stores/hand-over'
import { HOST_NAMES } from '~/handover/hosts'
import { exportGrid } from '~/handover/export-grid'
import CodeSheet from '~/components/ship/CodeSheet.vue'
import { formatBytes, formatWhen } from '~/utils/format'
import { startSentences, type StartSentence } from '~/start/start-sentences'

const grid = useOpenGrid()
const handOver = useHandOver()
const packing = ref(false)
const problem = ref('')
const told = ref('')
const looking = ref(false)
const only = ref<'files' | 'changes'>('files')

/** Ship stands beside Build, so that what is arranged is what readers start with. */
const sentences = computed(() =>
  grid.definition && grid.arrangement
    ? startSentences(grid.definition, grid.arrangement, grid.description?.fields ?? [])
    : [],
)
const hosts = HOST_NAMES.map(value => ({ value, title: words.shipPanel.hosts[value] }))
const rows = (['origin', 'array'] as const).map(value => ({ value, title: words.shipPanel.rowsFrom[value] }))
const changed = computed(() => {
  const { changes } = handOver
  const count = (which: 'added' | 'removed'): number => changes.reduce((sum, file) => sum + file[which], 0)
  return changes.length === 0
    ? words.shipPanel.nothingChanged
    : words.shipPanel.whatChanged(changes.length, count('added'), count('removed'))
})

watch([() => grid.description, () => handOver.host], () => void handOver.look(), { immediate: true })
watch(
  () => handOver.host,
  () => (told.value = ''),
)

function takeOut({ without }: StartSentence): void {
  if (without.search !== undefined) void grid.startSearch('')
  else grid.change(without)
}

function see(what: 'files' | 'changes'): void {
  only.value = what
  looking.value = true
}

async function download(): Promise<void> {
  packing.value = true
  problem.value = ''
  try {
    const { name, bytes } = await handOver.hand()
    told.value = words.shipPanel.itIsSaved(name, formatBytes(bytes))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    packing.value = false
  }
}

async function exported(): Promise<void> {
  const present = grid.present()
  if (present) await exportGrid(present, (await grid.fileForHandover()) ?? undefined)
}

/** Where rows stay with a service, the zip has none. */
const service = computed(() => {
  const origin = grid.saved?.origin
  const isFar = origin?.kind === 'service' || origin?.kind === 'listing'
  return isFar && handOver.rowsFrom === 'origin' ? origin : null
})
</script>

<template>
  <section v-if="handOver.handed">
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
    <VSelect v-model="handOver.host" class="choice" :items="hosts" :label="words.shipPanel.handOverAs" />
    <VSelect
      v-if="handOver.host !== 'definition'"
      v-model="handOver.rowsFrom"
      class="choice"
      :items="rows"
      :label="words.shipPanel.rows"
    />
    <p class="soft about">{{ words.shipPanel.whatItIs[handOver.host] }}</p>
    <p v-if="service && handOver.host !== 'definition'" class="soft about">
      {{ words.shipPanel.aFolderWithoutRows(service.address) }}
    </p>
    <div class="acts">
      <VBtn color="primary" variant="flat" :loading="packing" @click="download">{{
        handOver.host === 'definition' ? words.shipPanel.downloadTheFile : words.shipPanel.downloadTheZip
      }}</VBtn>
      <VBtn @click="see('files')">{{ words.shipPanel.seeTheCode }}</VBtn>
    </div>
    <p v-if="told" class="soft about" role="status">{{ told }}</p>
    <p v-if="problem" class="held about" role="alert">{{ problem }}</p>
    <template v-if="handOver.before">
      <h3>{{ words.shipPanel.sinceTheLast(formatWhen(handOver.before.at)) }}</h3>
      <p class="soft about">{{ changed }}</p>
      <VBtn v-if="handOver.changes.length > 0" @click="see('changes')">{{
        words.shipPanel.seeWhatChanged
      }}</VBtn>
    </template>
    <h3>{{ words.shipPanel.forTheWorkshop }}</h3>
    <p class="soft about">{{ words.shipPanel.theGridWithItsRows }}</p>
    <VBtn @click="exported">{{ words.shipPanel.exportTheGrid }}</VBtn>
    <CodeSheet v-model="looking" :only="only" @all="download" />
  </section>
</template>

<style scoped>
.about {
  margin-block: 6px 8px;
}
.choice {
  margin-block-start: 12px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
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
