<script setup lang="ts">
import { words } from '~/words'
import { withoutSame, type ChangedLine } from '~/handover/line-changes'

/** What became of each line of a file: those that are new or gone, with some of the others around them. */
const { lines } = defineProps<{ lines: readonly ChangedLine[] }>()
const shown = computed(() => withoutSame(lines))
const SIGNS = { same: ' ', added: '+', removed: '−' } as const
const SPOKEN = { same: '', added: words.codeSheet.added, removed: words.codeSheet.removed } as const
</script>

<template>
  <div class="changed" dir="ltr" tabindex="0" role="region" :aria-label="words.codeSheet.whatChanged">
    <template v-for="(line, nth) in shown" :key="nth">
      <div v-if="line" class="line" :class="line.kind">
        <span class="sign" aria-hidden="true">{{ SIGNS[line.kind] }}</span>
        <span v-if="line.kind !== 'same'" class="spoken">{{ SPOKEN[line.kind] }}</span>
        <code>{{ line.text }}</code>
      </div>
      <div v-else class="left-out" role="separator" :aria-label="words.codeSheet.linesLeftOut">{{ '⋯' }}</div>
    </template>
  </div>
</template>

<style scoped>
.changed {
  overflow: auto;
  background: var(--sheet);
  padding-block: 10px;
  font: 12px/1.55 var(--font-code);
}
.line {
  display: flex;
  min-inline-size: max-content;
  padding-inline: 14px;
  white-space: pre;
}
.sign {
  inline-size: 2em;
  flex: none;
}
.added {
  background: var(--moss-tint);
}
.removed {
  background: color-mix(in srgb, var(--poppy) 14%, transparent);
}
.left-out {
  color: var(--ink-soft);
  padding-inline: 14px;
}
.spoken {
  position: absolute;
  inline-size: 1px;
  block-size: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
</style>
