<script setup lang="ts">
import { words } from '~/words'
import type { RecipeInput } from '@vast-meadow/engine'
import { warmWorker } from '@vast-meadow/engine/client'
import { demos, type Demo } from '~/demo/demos'
import { exportGrid } from '~/handover/export-grid'
import { fileOfText } from '~/intake/clipboard-rows'
import { fileOf } from '~/storage/database'
import type { ListingOrigin, SavedGrid } from '~/storage/saved-grid'
import { heldFile, useShelf } from '~/stores/shelf'

const shelf = useShelf()
const opening = ref('')
const problem = ref('')
const pasting = ref(false)
const addressing = ref(false)
const makingUp = ref(false)

onMounted(() => {
  void shelf.refresh()
  // Whoever chooses rows waits for neither the page that shows them nor the worker that reads them.
  void preloadRouteComponents('/grid/next')
  document.addEventListener('paste', pasted)
})
onBeforeUnmount(() => document.removeEventListener('paste', pasted))

const open = (id: string): Promise<void> => Promise.resolve(navigateTo(`/grid/${id}`)).then(() => {})

/** A file that is dragged over the page may come as well. */
const near = (): void => warmWorker()

async function openDemo(demo: Demo, rows: number): Promise<void> {
  near()
  opening.value = demo.name
  await open(await shelf.addDemo(demo, rows))
}

async function openFile(file: File): Promise<void> {
  near()
  problem.value = ''
  try {
    await open(await shelf.addFile(file))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

/** Anywhere but in a field: what is pasted becomes a grid. */
function pasted(event: ClipboardEvent): void {
  if (event.target instanceof Element && event.target.closest('input, textarea')) return
  const file = event.clipboardData?.files[0]
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (file) void openFile(file)
  else if (text.trim()) void openFile(fileOfText(text))
}

const openAddress = async (address: string): Promise<void> => open(await shelf.addAddress(address))
const openListing = (origin: ListingOrigin): Promise<void> => open(shelf.addListing(origin))
const openService = (address: string, rows: string): Promise<void> => open(shelf.addService(address, rows))
const openMadeUp = (recipe: RecipeInput): Promise<void> => open(shelf.addMadeUp(recipe))

async function exported(grid: SavedGrid): Promise<void> {
  await exportGrid(grid, heldFile(grid.id) ?? (await fileOf(grid.id)))
}
</script>

<template>
  <FileDrop class="shelf" @file="openFile" @pointerover.once="near" @dragenter="near" @focusin.once="near">
    <header class="shelf-head">
      <BrandMark />
      <p class="soft">{{ words.shelfPage.buildADataGridTry }}</p>
      <span class="spacer" />
      <NuxtLink to="/guides" class="guides-link">{{ words.shelfPage.guides }}</NuxtLink>
      <LanguageChoice />
      <DarkToggle />
    </header>
    <main class="shelf-main">
      <VAlert v-if="shelf.problem" type="warning" variant="tonal" density="compact">{{
        shelf.problem
      }}</VAlert>
      <VAlert v-if="problem" type="error" variant="tonal" density="compact" role="alert">{{
        problem
      }}</VAlert>
      <p v-if="shelf.removed" class="removed" role="status">
        <span>{{ words.shelfPage.wasDeleted(shelf.removed.grid.title) }}</span>
        <VBtn size="small" @click="shelf.restore()">{{ words.shelfPage.putItBack }}</VBtn>
      </p>
      <section v-if="shelf.grids.length > 0" aria-labelledby="saved-title">
        <h2 id="saved-title" class="section-title">{{ words.shelfPage.yourGrids }}</h2>
        <ul class="saved">
          <SavedGridItem
            v-for="grid in shelf.grids"
            :key="grid.id"
            :grid="grid"
            @remove="shelf.remove(grid)"
            @duplicate="shelf.duplicate(grid)"
            @rename="shelf.rename(grid, $event)"
            @export="exported(grid)"
          />
        </ul>
      </section>
      <section aria-labelledby="start-title">
        <h1 id="start-title" class="section-title">{{ words.shelfPage.startFromRows }}</h1>
        <div class="cards">
          <FileCard
            @file="openFile"
            @paste="pasting = true"
            @address="addressing = true"
            @made-up="makingUp = true"
          />
          <DemoCard
            v-for="demo in demos"
            :key="demo.name"
            :demo="demo"
            :busy="opening === demo.name"
            @open="rows => openDemo(demo, rows)"
          />
        </div>
      </section>
    </main>
    <PasteDialog v-model="pasting" @rows="openFile(fileOfText($event))" />
    <AddressDialog
      v-model="addressing"
      :add="openAddress"
      :add-service="openService"
      :add-listing="openListing"
    />
    <MadeUpDialog v-model="makingUp" :add="openMadeUp" />
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
.removed {
  display: flex;
  align-items: center;
  gap: 12px;
}
@media (max-width: 760px) {
  .shelf-head .soft {
    display: none;
  }
}
</style>
