<script setup lang="ts">
const { label } = defineProps<{ label: string }>()
const emit = defineEmits<{ file: [file: File] }>()
const input = useTemplateRef<HTMLInputElement>('input')

function chosen(event: Event): void {
  const field = event.target
  if (!(field instanceof HTMLInputElement)) return
  const file = field.files?.[0]
  // The same file may be chosen again after it was mended.
  field.value = ''
  if (file) emit('file', file)
}
</script>

<template>
  <span>
    <input
      ref="input"
      class="visually-hidden"
      type="file"
      :aria-label="label"
      tabindex="-1"
      @change="chosen"
    />
    <VBtn @click="input?.click()">{{ label }}</VBtn>
  </span>
</template>
