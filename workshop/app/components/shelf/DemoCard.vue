<script setup lang="ts">
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
      <label v-if="demo.sizes.length > 1" class="size">
        <span class="visually-hidden">Rows of {{ demo.title }}</span>
        <select v-model.number="rows" class="figure">
          <option v-for="size in demo.sizes" :key="size" :value="size">{{ formatCount(size) }}</option>
        </select>
        <span class="figure">× {{ formatCount(demo.columns) }}</span>
      </label>
      <span v-else class="figure">{{ formatCount(rows) }} × {{ formatCount(demo.columns) }}</span>
      <VBtn color="primary" variant="flat" :loading="busy" @click="emit('open', rows)"
        >Open<span class="visually-hidden"> {{ demo.title }}</span></VBtn
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
select {
  font-family: var(--font-code);
  color: inherit;
  background: var(--panel);
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 4px 6px;
}
</style>
