<script setup lang="ts">
import { words } from '~/words'
import { mdiRedoVariant, mdiUndoVariant } from '@mdi/js'
import { useFindings } from '~/stores/findings'
import { useOpenGrid } from '~/stores/open-grid'

const grid = useOpenGrid()
const found = useFindings()
const renaming = ref(false)
const title = ref('')

const state = computed(() =>
  grid.report && grid.saving !== 'not saved' ? words.topBar.saving[grid.saving] : '',
)
const problems = computed(() => found.findings.some(({ severity }) => severity === 'problem'))

function startRenaming(): void {
  title.value = grid.saved?.title ?? ''
  renaming.value = true
}

function rename(): void {
  if (!renaming.value) return
  renaming.value = false
  grid.retitle(title.value)
}

function undoKeys(event: KeyboardEvent): void {
  if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
  // Who writes takes back what was written.
  const [field] = event.composedPath()
  if (field instanceof Element && field.closest('input, textarea, [contenteditable]')) return
  event.preventDefault()
  void grid.walk(event.shiftKey ? 1 : -1)
}
onMounted(() => window.addEventListener('keydown', undoKeys))
onBeforeUnmount(() => window.removeEventListener('keydown', undoKeys))
</script>

<template>
  <header class="top">
    <BrandMark />
    <div class="name">
      <h1 v-if="!renaming">
        <button type="button" class="title" :title="words.topBar.renameTheGrid" @click="startRenaming">
          {{ grid.saved?.title }}
        </button>
      </h1>
      <input
        v-else
        v-model="title"
        v-focus
        class="rename"
        :aria-label="words.topBar.nameOfTheGrid"
        @blur="rename"
        @keydown.enter="rename"
        @keydown.esc="renaming = false"
      />
      <span class="soft" role="status">{{ state }}</span>
    </div>
    <span class="spacer" />
    <FrameSize />
    <template v-if="grid.mode === 'build'">
      <VBtn
        class="trace plain"
        :aria-pressed="grid.panel === 'trace'"
        @click="grid.panel = grid.panel === 'trace' ? null : 'trace'"
        >{{ words.topBar.traceARow }}</VBtn
      >
      <VBtn
        class="trace plain"
        :aria-pressed="grid.panel === 'scenes'"
        @click="grid.panel = grid.panel === 'scenes' ? null : 'scenes'"
        >{{ words.scenesPanel.scenes }}</VBtn
      >
      <VBtn
        class="findings"
        :class="{ some: found.findings.length > 0, problems }"
        :aria-pressed="grid.panel === 'findings'"
        @click="grid.panel = grid.panel === 'findings' ? null : 'findings'"
        >{{ words.topBar.findings(found.findings.length) }}</VBtn
      >
      <VBtn
        class="plain icon"
        :disabled="!grid.undoable"
        :title="grid.undoable ? words.topBar.undo(`: ${grid.undoable}`) : words.topBar.nothingToUndo"
        @click="grid.walk(-1)"
        ><VIcon :icon="mdiUndoVariant" /><span class="visually-hidden">{{
          words.topBar.undo(grid.undoable ? `: ${grid.undoable}` : '')
        }}</span></VBtn
      >
      <VBtn
        class="plain icon"
        :disabled="!grid.redoable"
        :title="grid.redoable ? words.topBar.redo(`: ${grid.redoable}`) : words.topBar.nothingToRedo"
        @click="grid.walk(1)"
        ><VIcon :icon="mdiRedoVariant" /><span class="visually-hidden">{{
          words.topBar.redo(grid.redoable ? `: ${grid.redoable}` : '')
        }}</span></VBtn
      >
    </template>
    <div class="modes" role="group" :aria-label="words.topBar.mode">
      <button type="button" :aria-pressed="grid.mode === 'build'" @click="grid.setMode('build')">
        {{ words.topBar.build }}
      </button>
      <button type="button" :aria-pressed="grid.mode === 'use'" @click="grid.setMode('use')">
        {{ words.topBar.use }}
      </button>
    </div>
    <DarkToggle />
    <NuxtLink to="/" class="to-shelf">{{ words.topBar.shelf }}</NuxtLink>
  </header>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: 8px;
  padding-inline: 14px;
  border-block-end: 1px solid var(--rule);
  background: var(--panel);
}
.name {
  display: flex;
  align-items: baseline;
  gap: 10px;
  margin-inline-start: 4px;
  padding-inline-start: 12px;
  border-inline-start: 1px solid var(--rule);
  min-inline-size: 0;
}
h1 {
  font: 600 13.5px var(--font-text);
  letter-spacing: 0;
  min-inline-size: 56px;
  max-inline-size: 300px;
}
.title {
  font: inherit;
  color: inherit;
  background: none;
  border: 1px solid transparent;
  border-radius: 5px;
  padding: 2px 5px;
  margin-inline-start: -6px;
  display: block;
  max-inline-size: inherit;
  white-space: nowrap;
  overflow: clip;
  text-overflow: ellipsis;
  cursor: text;
}
.title:hover {
  border-color: var(--rule);
}
.rename {
  font: 600 13.5px var(--font-text);
  color: inherit;
  background: var(--sheet);
  border: 1px solid var(--ink-soft);
  border-radius: 5px;
  padding: 2px 5px;
}
.spacer {
  flex: 1;
}
/* What is used now and then stands back behind what is: the mode, and what was found. */
.plain {
  border-color: transparent;
  background: none;
  color: var(--ink-soft);
  padding-inline: 8px;
}
.plain:hover:enabled,
.plain[aria-pressed='true'] {
  background: color-mix(in srgb, var(--ink) 7%, transparent);
  color: var(--ink);
}
.plain.icon {
  min-inline-size: 32px;
  padding-inline: 0;
}
.to-shelf {
  font-weight: 500;
  margin-inline-start: 4px;
}
.findings.some {
  background: var(--straw-tint);
  border-color: color-mix(in srgb, var(--straw) 55%, transparent);
}
.findings.problems {
  color: var(--poppy);
}
.modes {
  display: flex;
  border: 1px solid var(--rule);
  border-radius: 6px;
  overflow: clip;
}
.modes button {
  font: 500 13px var(--font-text);
  color: inherit;
  background: var(--sheet);
  border: 0;
  padding: 5px 12px;
  cursor: pointer;
}
.modes button + button {
  border-inline-start: 1px solid var(--rule);
}
.modes [aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
@media (max-width: 820px) {
  .name .soft,
  .trace,
  .findings {
    display: none;
  }
}
@media (max-width: 480px) {
  .name {
    display: none;
  }
}
</style>
