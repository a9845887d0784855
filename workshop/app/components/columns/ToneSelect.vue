<script setup lang="ts">
import { PALETTE, TONES, type Tone } from '@vast-meadow/engine'
import { usePreferences } from '~/stores/preferences'

/** One of the tones of the palette, shown with its colour. */
const { modelValue, label } = defineProps<{ modelValue: Tone; label: string }>()
const emit = defineEmits<{ 'update:modelValue': [tone: Tone] }>()
const preferences = usePreferences()
const colour = computed(() => PALETTE[modelValue][preferences.dark ? 'dark' : 'light'])
</script>

<template>
  <VSelect
    :model-value="modelValue"
    :items="TONES"
    :label="label"
    @update:model-value="emit('update:modelValue', $event)"
  >
    <template #prepend-inner><i class="swatch" :style="{ background: colour }" /></template>
  </VSelect>
</template>

<style scoped>
.swatch {
  inline-size: 11px;
  block-size: 11px;
  border-radius: 3px;
  margin-inline-end: 4px;
}
</style>
