<script setup lang="ts">
import { words } from '~/words'
const emit = defineEmits<{ file: [file: File] }>()

/** Enter and leave events come in pairs for every element under the pointer. */
const depth = ref(0)

const hasFile = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false

function entered(event: DragEvent): void {
  if (hasFile(event)) depth.value++
}

function left(event: DragEvent): void {
  if (hasFile(event)) depth.value = Math.max(0, depth.value - 1)
}

function dropped(event: DragEvent): void {
  depth.value = 0
  const file = event.dataTransfer?.files[0]
  if (file) emit('file', file)
}
</script>

<template>
  <div
    class="file-drop"
    @dragenter.prevent="entered"
    @dragover.prevent
    @dragleave="left"
    @drop.prevent="dropped"
  >
    <slot />
    <div v-if="depth > 0" class="drop-hint">
      <span>{{ words.fileDrop.dropTheFileToRead }}</span>
    </div>
  </div>
</template>

<style scoped>
.file-drop {
  position: relative;
}
.drop-hint {
  position: absolute;
  inset: 10px;
  display: grid;
  place-items: center;
  border: 2px dashed var(--moss);
  border-radius: 14px;
  background: color-mix(in srgb, var(--moss-tint) 88%, transparent);
  font: 600 24px var(--font-display);
  color: var(--moss-ink);
  pointer-events: none;
  z-index: 20;
}
</style>
