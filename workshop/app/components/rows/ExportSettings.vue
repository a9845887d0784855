<script setup lang="ts">
import { words } from '~/words'
import { EXPORT_FORMATS, type ExportFormat } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'

/** In which formats readers may take rows away. */
const grid = useOpenGrid()
const offered = computed(() => grid.definition?.exports ?? [])

function set(format: ExportFormat, on: boolean): void {
  const exports = EXPORT_FORMATS.filter(name => (name === format ? on : offered.value.includes(name)))
  void grid.define(words.exportSettings.export, { ...grid.now.definition, exports })
}
</script>

<template>
  <h3>{{ words.exportSettings.readersTakeAway }}</h3>
  <VCheckbox
    v-for="format of EXPORT_FORMATS"
    :key="format"
    :model-value="offered.includes(format)"
    :label="words.exportSettings.formats[format]"
    @update:model-value="set(format, $event === true)"
  />
  <VCheckbox
    :model-value="grid.definition?.print ?? false"
    :label="words.exportSettings.print"
    @update:model-value="
      grid.define(words.exportSettings.print, { ...grid.now.definition, print: $event === true })
    "
  />
</template>
