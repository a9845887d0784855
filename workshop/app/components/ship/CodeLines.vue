<script setup lang="ts">
import { words } from '~/words'
import { colouredLines, plainLines, type ColouredRun } from '~/handover/code-colours'

/** A file's text with its lines numbered, in colours where its language is known. */
const { path, text } = defineProps<{ path: string; text: string }>()
const lines = shallowRef<readonly (readonly ColouredRun[])[]>([])

watch(
  [() => path, () => text],
  async ([name, code]) => {
    const shown = code.replace(/\n$/, '')
    // The text is there at once; what reads its language may have to be loaded first.
    lines.value = plainLines(shown)
    const coloured = await colouredLines(name, shown)
    if (name === path && code === text) lines.value = coloured
  },
  { immediate: true },
)
</script>

<template>
  <!-- Code is read from the left, whatever the page. -->
  <pre
    class="coloured"
    dir="ltr"
    tabindex="0"
    role="region"
    :aria-label="words.codeSheet.code(path)"
  ><code><span v-for="(line, nth) in lines" :key="nth" class="line"><span v-for="(run, at) in line" :key="at" :class="run.tone">{{ run.text }}</span>{{ '\n' }}</span></code></pre>
</template>

<style scoped>
pre {
  margin: 0;
  padding: 10px 0;
  overflow: auto;
  background: var(--sheet);
  font: 12px/1.55 var(--font-code);
  counter-reset: line;
}
.line {
  display: block;
  padding-inline: 4.2em 16px;
  min-inline-size: max-content;
  position: relative;
  counter-increment: line;
}
.line::before {
  content: counter(line);
  position: absolute;
  inset-inline-start: 0;
  inline-size: 3.2em;
  text-align: end;
  color: var(--ink-soft);
  opacity: 0.75;
  user-select: none;
}
</style>
