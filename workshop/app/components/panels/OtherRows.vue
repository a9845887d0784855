<script setup lang="ts">
import { words } from '~/words'
import { definitionSchema, defineFromSchema } from '@vast-meadow/engine'
import { fileOfText } from '~/intake/clipboard-rows'
import { fetchAddress } from '~/intake/fetch-address'
import { useOpenGrid } from '~/stores/open-grid'
import { sure } from '@vast-meadow/engine/client'

/** Other rows under the same definition, or columns from a schema over the same rows. */
const grid = useOpenGrid()
const problem = ref('')
const busy = ref(false)
const address = computed(() => (grid.saved?.origin.kind === 'file' ? grid.saved.origin.address : undefined))

async function attempt(act: () => Promise<void>): Promise<void> {
  problem.value = ''
  busy.value = true
  try {
    await act()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}

const paste = (): Promise<void> =>
  attempt(async () => {
    const text = await navigator.clipboard.readText()
    if (text.trim() === '') throw new Error(words.otherRows.thereIsNoTextOn)
    await grid.replaceFile(fileOfText(text))
  })

const fetchAgain = (): Promise<void> =>
  attempt(async () => {
    const from = sure(address.value)
    await grid.replaceFile(await fetchAddress(from), { address: from })
  })

const fromSchema = (file: File): Promise<void> =>
  attempt(async () => {
    const made = defineFromSchema(JSON.parse(await file.text()))
    if (!made.ok) throw new Error(`${file.name}: ${made.problem}`)
    const { definition, columns } = made.made
    const { key, columns: described } = definition
    const present = grid.now.definition
    await grid.define(words.otherRows.columnsFromASchema2, {
      ...present,
      key: key === undefined ? present.key : [key].flat(),
      columns: definitionSchema.shape.columns.parse(described),
    })
    if (grid.saved?.origin.kind === 'file') await grid.read(words.otherRows.typesFromASchema, { columns })
  })
</script>

<template>
  <h3>{{ words.otherRows.otherRows }}</h3>
  <p class="lead">
    {{ words.otherRows.theyTakeThePlaceOf }}
  </p>
  <div class="ways">
    <FileButton :label="words.otherRows.chooseAFile" @file="grid.replaceFile($event)" />
    <VBtn :disabled="busy" @click="paste">{{ words.otherRows.pasteRows }}</VBtn>
    <VBtn v-if="address" :disabled="busy" @click="fetchAgain">{{ words.otherRows.fetchAgain }}</VBtn>
  </div>
  <h3>{{ words.otherRows.columnsFromASchema }}</h3>
  <p class="lead">{{ words.otherRows.aTableSchemaOrA }}</p>
  <FileButton :label="words.otherRows.chooseASchema" @file="fromSchema($event)" />
  <p v-if="problem" class="held problem" role="alert">{{ problem }}</p>
</template>

<style scoped>
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.problem {
  margin-block-start: 8px;
}
</style>
