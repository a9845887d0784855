<script setup lang="ts">
import { words } from '~/words'
import type { Demo } from '~/demo/demos'
import { formatCount } from '~/utils/format'

const { demo, busy } = defineProps<{ demo: Demo; busy: boolean }>()
const emit = defineEmits<{ open: [rows: number] }>()

const rows = ref(demo.rows)
</script>

<template>
  <article class="card">
    <StrataMark :rows="rows" :columns="demo.columns" />
    <h2>{{ demo.title }}</h2>
    <p class="soft about">{{ demo.about }}</p>
    <div class="foot">
      <span v-if="demo.sizes.length > 1" class="size figure">
        <ChoiceMenu
          class="figure"
          :label="words.demoCard.rowsOf(demo.title)"
          :text="formatCount(rows)"
          :choices="demo.sizes.map(value => ({ title: formatCount(value), value }))"
          @choose="rows = $event"
        />
        × {{ formatCount(demo.columns) }}
      </span>
      <span v-else class="figure">{{ formatCount(rows) }} × {{ formatCount(demo.columns) }}</span>
      <VBtn color="primary" variant="flat" :loading="busy" @click="emit('open', rows)"
        >{{ words.demoCard.open }}<span class="visually-hidden"> {{ demo.title }}</span></VBtn
      >
    </div>
  </article>
</template>

<style scoped>
.card {
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  background: var(--sheet);
  padding: 14px 16px;
  display: grid;
  gap: 6px;
  grid-template-rows: auto auto 1fr auto;
}
.about {
  min-block-size: 56px;
}
.foot {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
  margin-block-start: 6px;
}
.figure {
  font-size: 12px;
}
.size {
  display: flex;
  align-items: center;
  gap: 6px;
}
</style>
