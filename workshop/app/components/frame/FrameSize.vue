<script setup lang="ts">
import { words } from '~/words'
import { FRAMES, useFrame, type FrameName } from '~/stores/frame'

/** The sizes that the frame of the live grid can have. */
const frame = useFrame()
const NAMES = ['page', 'card', 'phone'] as const satisfies readonly FrameName[]
</script>

<template>
  <div class="sizes" role="group" :aria-label="words.frameSize.frame">
    <button
      v-for="name in NAMES"
      :key="name"
      type="button"
      :aria-pressed="frame.name === name"
      :title="
        FRAMES[name] ? `${FRAMES[name].width} × ${FRAMES[name].height} px` : words.frameSize.allTheRoomThereIs
      "
      @click="frame.choose(name)"
    >
      {{ words.frameSize.names[name] }}
    </button>
  </div>
</template>

<style scoped>
.sizes {
  display: flex;
  margin-inline-end: 4px;
  padding-inline-end: 8px;
  border-inline-end: 1px solid var(--rule);
}
.sizes button {
  font: 500 13px var(--font-text);
  color: var(--ink-soft);
  background: none;
  border: 0;
  border-radius: 6px;
  padding: 5px 8px;
  cursor: pointer;
}
.sizes button:hover {
  background: color-mix(in srgb, var(--ink) 7%, transparent);
}
.sizes [aria-pressed='true'] {
  color: var(--ink);
  text-decoration: underline;
  text-decoration-thickness: 2px;
  text-underline-offset: 5px;
  text-decoration-color: var(--moss);
}
@media (max-width: 1000px) {
  .sizes {
    display: none;
  }
}
</style>
