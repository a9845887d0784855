<script setup lang="ts">
const emit = defineEmits<{ rows: [text: string] }>()
const open = defineModel<boolean>({ required: true })
const text = ref('')

function add(): Promise<void> {
  if (text.value.trim() === '')
    return Promise.reject(new Error('There is nothing to read. Paste some rows first.'))
  emit('rows', text.value)
  text.value = ''
  return Promise.resolve()
}
</script>

<template>
  <ShelfDialog v-model="open" title="Paste rows" does="Read them" :act="add">
    <p class="soft">
      Cells from a spreadsheet, CSV, or JSON. On the shelf, pasting does the same without this box.
    </p>
    <textarea v-model="text" v-focus class="text" rows="12" aria-label="Rows" spellcheck="false" />
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
