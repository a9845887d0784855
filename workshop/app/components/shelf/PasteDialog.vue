<script setup lang="ts">
import { words } from '~/words'
const emit = defineEmits<{ rows: [text: string] }>()
const open = defineModel<boolean>({ required: true })
const text = ref('')

function add(): Promise<void> {
  if (text.value.trim() === '') return Promise.reject(new Error(words.pasteDialog.thereIsNothingToRead))
  emit('rows', text.value)
  text.value = ''
  return Promise.resolve()
}
</script>

<template>
  <ShelfDialog
    v-model="open"
    :title="words.pasteDialog.pasteRows"
    :does="words.pasteDialog.readThem"
    :act="add"
  >
    <p class="soft">
      {{ words.pasteDialog.cellsFromASpreadsheetCsv }}
    </p>
    <textarea
      v-model="text"
      v-focus
      class="text"
      rows="12"
      :aria-label="words.pasteDialog.rows"
      spellcheck="false"
    />
  </ShelfDialog>
</template>

<style scoped>
.text {
  font: 12px/1.5 var(--font-code);
  color: inherit;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 10px;
  resize: vertical;
  white-space: pre;
}
</style>
