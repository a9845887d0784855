<script setup lang="ts">
import { words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { inputOf, type ServiceOrigin } from '~/storage/saved-grid'
import { fewRows } from '~/utils/few-rows'
import { sure } from '@vast-meadow/engine/client'

/** What the page does by itself once few rows of a service pass. */
const { origin } = defineProps<{ origin: ServiceOrigin }>()
const grid = useOpenGrid()
const busy = ref(false)
const limits = computed(() => origin.near || {})
const isNever = computed(() => origin.near === false)

async function set(change: { readonly rows?: number; readonly more?: boolean }): Promise<void> {
  const { rows, more, ...others } = { ...limits.value, ...change }
  const near = rows === 0 ? false : { ...others, ...(rows && { rows }), ...(more && { more }) }
  const { near: _, ...rest } = origin
  const next: ServiceOrigin = near === false || Object.keys(near).length > 0 ? { ...rest, near } : rest
  busy.value = true
  await grid.replaceRows(sure(inputOf(next, undefined)), next)
  busy.value = false
}
</script>

<template>
  <h3>{{ words.fewRows.title }}</h3>
  <p class="soft">{{ words.fewRows.lead }}</p>
  <VTextField
    :model-value="isNever ? 0 : (limits.rows ?? '')"
    :label="words.listing.near"
    placeholder="5000"
    persistent-placeholder
    type="number"
    min="0"
    :disabled="busy"
    @change="set({ rows: fewRows($event.target.value) })"
  />
  <VCheckbox
    :model-value="limits.more ?? false"
    :label="words.fewRows.more"
    :disabled="busy || isNever"
    @update:model-value="set({ more: $event === true })"
  />
  <p v-if="limits.more" class="soft">{{ words.fewRows.moreTells }}</p>
</template>

<style scoped>
h3 {
  margin-block: 14px 6px;
}
.soft {
  margin-block: 6px;
}
</style>
