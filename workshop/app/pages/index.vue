<script setup lang="ts">
import { demos, type Demo } from '~/demo/demos'
import { useShelf } from '~/stores/shelf'

const shelf = useShelf()
const opening = ref('')

onMounted(() => void shelf.refresh())

async function openDemo(demo: Demo, rows: number): Promise<void> {
  opening.value = demo.name
  const id = await shelf.addDemo(demo, rows)
  await navigateTo(`/grid/${id}`)
}

async function openFile(file: File): Promise<void> {
  await navigateTo(`/grid/${shelf.addFile(file)}`)
}
</script>

<template>
  <FileDrop class="shelf" @file="openFile">
    <header class="shelf-head">
      <BrandMark />
      <p class="soft">Build a data grid, try it on real volume, take it away as code.</p>
      <span class="spacer" />
      <DarkToggle />
    </header>
    <main class="shelf-main">
      <VAlert v-if="shelf.problem" type="warning" variant="tonal" density="compact">{{
        shelf.problem
      }}</VAlert>
      <section aria-labelledby="start-title">
        <h1 id="start-title" class="section-title">Start from rows</h1>
        <div class="cards">
          <DemoCard
            v-for="demo in demos"
            :key="demo.name"
            :demo="demo"
            :busy="opening === demo.name"
            @open="rows => openDemo(demo, rows)"
          />
          <FileCard @file="openFile" />
        </div>
      </section>
      <section v-if="shelf.grids.length > 0" aria-labelledby="saved-title">
        <h2 id="saved-title" class="section-title">Your grids</h2>
        <ul class="saved">
          <SavedGridItem
            v-for="grid in shelf.grids"
            :key="grid.id"
            :grid="grid"
            @remove="shelf.remove(grid.id)"
          />
        </ul>
      </section>
    </main>
  </FileDrop>
</template>

<style scoped>
.shelf {
  block-size: 100%;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
}
.shelf-head {
  display: flex;
  align-items: center;
  gap: 16px;
  min-block-size: var(--top-height);
  padding: 6px 18px;
  border-block-end: 1px solid var(--rule);
  background: var(--panel);
}
.spacer {
  flex: 1;
}
.shelf-main {
  overflow: auto;
  padding: 26px 28px 40px;
  display: grid;
  gap: 30px;
  align-content: start;
}
.shelf-main > * {
  inline-size: 100%;
  max-inline-size: 1180px;
  margin-inline: auto;
}
.section-title {
  font-size: 22px;
  line-height: 1.2;
  margin-block-end: 14px;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 14px;
}
.saved {
  list-style: none;
  margin: 0;
  padding: 0;
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  background: var(--sheet);
}
</style>
