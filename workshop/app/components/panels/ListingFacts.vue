<script setup lang="ts">
import { words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { inputOf, type ListingOrigin } from '~/storage/saved-grid'
import { sure } from '@vast-meadow/engine/client'

/** How a service lists rows, to be put right with its answer in view. */
const { origin } = defineProps<{ origin: ListingOrigin }>()
const grid = useOpenGrid()
const mapping = shallowRef(origin)
const busy = ref(false)
const differs = computed(() => JSON.stringify(mapping.value) !== JSON.stringify(origin))

async function take(): Promise<void> {
  busy.value = true
  await grid.replaceRows(sure(inputOf(mapping.value, undefined)), mapping.value)
  busy.value = false
}
</script>

<template>
  <h3>{{ words.listing.howItLists }}</h3>
  <ListingMapping v-model="mapping" />
  <VBtn v-if="differs" class="take" color="primary" variant="flat" :loading="busy" @click="take">{{
    words.listing.readThemSo
  }}</VBtn>
</template>

<style scoped>
.take {
  margin-block-start: 8px;
}
</style>
