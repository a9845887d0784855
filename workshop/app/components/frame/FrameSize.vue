<script setup lang="ts">
import { FRAMES, useFrame, type FrameName } from '~/stores/frame'

/** The sizes that the frame of the live grid can have. */
const frame = useFrame()
const NAMES: readonly FrameName[] = ['page', 'card', 'phone']
</script>

<template>
  <div class="sizes" role="group" aria-label="Frame">
    <button
      v-for="name in NAMES"
      :key="name"
      type="button"
      :aria-pressed="frame.name === name"
      :title="FRAMES[name] ? `${FRAMES[name].width} × ${FRAMES[name].height} px` : 'All the room there is'"
      @click="frame.choose(name)"
    >
      {{ name }}
    </button>
  </div>
</template>

<style scoped>
.sizes {
  display: flex;
  border: 1px solid var(--rule);
  border-radius: 6px;
  overflow: clip;
}
.sizes button {
  font: 500 13px var(--font-text);
  color: inherit;
  background: var(--sheet);
  border: 0;
  padding: 5px 11px;
  cursor: pointer;
}
.sizes button + button {
  border-inline-start: 1px solid var(--rule);
}
.sizes [aria-pressed='true'] {
  background: var(--ink);
  color: var(--paper);
}
@media (max-width: 1000px) {
  .sizes {
    display: none;
  }
}
</style>
