<script setup lang="ts">
import { words } from '~/words'
import { download } from '~/handover/download'
import { useHandOver } from '~/stores/hand-over'
import CodeLines from './CodeLines.vue'
import ChangedLines from './ChangedLines.vue'

/** All that is handed over, file by file, wide enough to be read; or what of it is new since the last time. */
const open = defineModel<boolean>({ required: true })
const { only } = defineProps<{ only: 'files' | 'changes' }>()
const emit = defineEmits<{ all: [] }>()
const handOver = useHandOver()
const id = useId()
const copied = ref(false)
const path = ref('')

const paths = computed(() =>
  only === 'files' ? handOver.files.map(file => file.path) : handOver.changes.map(file => file.path),
)
const shown = computed(() => (paths.value.includes(path.value) ? path.value : paths.value[0]))
const text = computed(() => handOver.files.find(file => file.path === shown.value)?.text ?? '')
const changed = computed(() => handOver.changes.find(file => file.path === shown.value) ?? null)

async function copy(): Promise<void> {
  await navigator.clipboard.writeText(text.value)
  copied.value = true
  setTimeout(() => (copied.value = false), 1500)
}

function save(): void {
  download(new Blob([text.value], { type: 'text/plain' }), shown.value.split('/').at(-1) ?? shown.value)
}
</script>

<template>
  <VDialog v-model="open" :max-width="1180" scrollable :aria-labelledby="id">
    <div class="sheet">
      <header>
        <h2 :id="id">
          {{ only === 'files' ? words.shipPanel.hosts[handOver.host] : words.codeSheet.whatChanged }}
        </h2>
        <VBtn v-if="only === 'files' && handOver.host !== 'definition'" @click="emit('all')">
          {{ words.codeSheet.downloadAll }}
        </VBtn>
        <VBtn @click="open = false">{{ words.codeSheet.close }}</VBtn>
      </header>
      <nav :aria-label="words.codeSheet.files">
        <button
          v-for="one in paths"
          :key="one"
          type="button"
          :aria-current="one === shown ? 'true' : undefined"
          @click="path = one"
        >
          <bdi>{{ one }}</bdi>
        </button>
      </nav>
      <section class="code" :aria-label="words.codeSheet.code(shown ?? '')">
        <ChangedLines v-if="only === 'changes' && changed" :lines="changed.lines" />
        <CodeLines v-else-if="shown" :path="shown" :text="text" />
      </section>
      <footer v-if="only === 'files'">
        <VBtn @click="copy">{{ copied ? words.codeSheet.copied : words.codeSheet.copy }}</VBtn>
        <VBtn @click="save">{{ words.codeSheet.saveThisFile }}</VBtn>
      </footer>
    </div>
  </VDialog>
</template>

<style scoped>
.sheet {
  background: var(--panel);
  border: 1px solid var(--rule);
  border-radius: 12px;
  block-size: 86vh;
  display: grid;
  grid-template: auto minmax(0, 1fr) auto / 236px minmax(0, 1fr);
  overflow: hidden;
}
header {
  grid-column: 1 / -1;
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 12px 16px;
  border-block-end: 1px solid var(--rule);
}
h2 {
  flex: 1;
  margin: 0;
}
nav {
  grid-row: 2 / -1;
  overflow: auto;
  padding: 8px;
  border-inline-end: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
}
nav button {
  border: 0;
  border-radius: 6px;
  background: none;
  color: inherit;
  font: 12px/1.4 var(--font-code);
  text-align: start;
  padding: 5px 9px;
  cursor: pointer;
  overflow-wrap: anywhere;
}
nav button:hover {
  background: var(--rule-soft);
}
nav button[aria-current] {
  background: var(--moss-tint);
  color: var(--moss-ink);
}
.code {
  overflow: hidden;
  display: grid;
}
footer {
  display: flex;
  justify-content: end;
  gap: 8px;
  padding: 10px 16px;
  border-block-start: 1px solid var(--rule);
}
@media (width < 700px) {
  .sheet {
    grid-template: auto auto minmax(0, 1fr) auto / minmax(0, 1fr);
  }
  header {
    flex-wrap: wrap;
  }
  nav {
    grid-row: 2;
    flex-direction: row;
    border-inline-end: 0;
    border-block-end: 1px solid var(--rule);
  }
  nav button {
    white-space: nowrap;
  }
}
</style>
