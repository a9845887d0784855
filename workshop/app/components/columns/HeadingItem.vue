<script setup lang="ts">
import type { HeadingDefinition } from '@vast-meadow/engine'
import { possibleParents, withHeading, withoutHeading } from '~/columns/heading-edits'
import { words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'

/** A heading over several columns, where its columns begin in the list. */
const { heading, level } = defineProps<{ heading: HeadingDefinition; level: number }>()
const grid = useOpenGrid()
const open = ref(false)

const parents = computed(() => [
  { title: words.headingItem.nothing, value: '' },
  ...(grid.definition ? possibleParents(grid.definition, heading.key) : []).map(({ key, title }) => ({
    title,
    value: key,
  })),
])
const set = (change: Partial<HeadingDefinition>): void =>
  void grid.define(
    words.headingItem.headingNamed(heading.title),
    withHeading(grid.now.definition, heading.key, change),
  )
const remove = (): void =>
  void grid.define(words.headingItem.headingTakenOut, withoutHeading(grid.now.definition, heading.key))
</script>

<template>
  <div class="heading" :style="{ paddingInlineStart: `${level * 14}px` }">
    <button
      type="button"
      class="name"
      :aria-expanded="open"
      :aria-label="words.headingItem.settingsOf(heading.title)"
      @click="open = !open"
    >
      <span class="mark" aria-hidden="true">{{ open ? '▾' : '▸' }}</span>
      {{ heading.title }}
    </button>
    <div v-if="open" class="box">
      <VTextField
        :model-value="heading.title"
        :label="words.headingItem.title"
        @change="set({ title: $event.target.value })"
      />
      <VTextField
        :model-value="heading.help ?? ''"
        :label="words.headingItem.help"
        @change="set({ help: $event.target.value || undefined })"
      />
      <VSelect
        :model-value="heading.under ?? ''"
        :items="parents"
        :label="words.headingItem.under"
        @update:model-value="set({ under: $event || undefined })"
      />
      <VCheckbox
        :model-value="heading.together"
        :label="words.headingItem.together"
        @update:model-value="set({ together: $event === true })"
      />
      <VBtn size="small" @click="remove">{{ words.headingItem.takeOut }}</VBtn>
    </div>
  </div>
</template>

<style scoped>
.heading {
  border-block-end: 1px solid var(--rule-soft);
  background: var(--moss-tint);
}
.name {
  inline-size: 100%;
  text-align: start;
  border: 0;
  background: none;
  font: inherit;
  font-weight: 600;
  font-size: 12.5px;
  color: inherit;
  padding: 4px 8px;
  cursor: pointer;
}
.mark {
  color: var(--ink-soft);
}
.box {
  display: grid;
  gap: 8px;
  margin: 4px 8px 8px;
  background: var(--sheet);
}
</style>
