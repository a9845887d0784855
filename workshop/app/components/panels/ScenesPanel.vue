<script setup lang="ts">
import { sentences, words } from '~/words'
import { useOpenGrid } from '~/stores/open-grid'
import { useScenes, type SceneState } from '~/stores/scenes'
import { formatCount } from '~/utils/format'

const grid = useOpenGrid()
const store = useScenes()
const name = ref('')
const problem = ref('')

async function keep(): Promise<void> {
  const wanted = name.value.trim()
  if (wanted === '') {
    problem.value = words.scenesPanel.needsName
    return
  }
  problem.value = ''
  await store.keep(wanted).catch((error: unknown) => (problem.value = String(error)))
  name.value = ''
}

const stateOf = (scene: string): SceneState | undefined => store.states.get(scene)
const differencesOf = (scene: string): readonly string[] => {
  const state = stateOf(scene)
  return state?.is === 'replayed'
    ? state.replayed.differences.map(one => sentences.scene(one, grid.titleOf))
    : []
}
function said(scene: string): string {
  const state = stateOf(scene)
  if (!state || state.is === 'asked') return words.scenesPanel.looking
  if (state.is === 'failed') return state.reason
  const { length } = state.replayed.differences
  return length === 0 ? words.scenesPanel.asItWas : words.scenesPanel.differs(length)
}

// Rows or definition are others: what each scene shows is looked at anew.
watch(
  [() => grid.definition, () => grid.description, () => grid.coming],
  () => {
    if (grid.handle && !grid.coming) void store.replayAll()
  },
  { immediate: true },
)
</script>

<template>
  <section>
    <h2>{{ words.scenesPanel.scenes }}</h2>
    <p class="lead">{{ words.scenesPanel.lead }}</p>
    <form class="keep" @submit.prevent="keep">
      <VTextField v-model="name" :label="words.scenesPanel.name" :error-messages="problem" />
      <VBtn type="submit" color="primary" variant="flat">{{ words.scenesPanel.keep }}</VBtn>
    </form>
    <p v-if="store.scenes.length === 0" class="soft">{{ words.scenesPanel.none }}</p>
    <ul class="scenes">
      <li
        v-for="scene in store.scenes"
        :key="scene.name"
        class="box"
        :class="{ differs: differencesOf(scene.name).length > 0 }"
      >
        <p class="row">
          <b>{{ scene.name }}</b>
          <span class="soft figure">{{
            words.scenesPanel.passing(formatCount(scene.shows.passing), formatCount(scene.shows.rows))
          }}</span>
        </p>
        <p role="status" class="state">{{ said(scene.name) }}</p>
        <ul v-if="differencesOf(scene.name).length > 0" class="differences">
          <li v-for="(text, nth) in differencesOf(scene.name)" :key="nth">{{ text }}</li>
        </ul>
        <div class="acts">
          <VBtn size="small" @click="store.show(scene)">{{ words.scenesPanel.show }}</VBtn>
          <VBtn v-if="differencesOf(scene.name).length > 0" size="small" @click="store.take(scene)">{{
            words.scenesPanel.take
          }}</VBtn>
          <button
            type="button"
            class="link-button push"
            :aria-label="words.scenesPanel.removeNamed(scene.name)"
            @click="store.remove(scene)"
          >
            {{ words.scenesPanel.remove }}
          </button>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.keep {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: end;
  gap: 8px;
  margin-block-end: 12px;
}
.scenes,
.differences {
  list-style: none;
  margin: 0;
  padding: 0;
}
.scenes > li.box {
  border-inline-start: 3px solid var(--moss);
  margin-block-end: 8px;
}
.scenes > li.differs {
  border-inline-start-color: var(--straw);
}
.row {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 8px;
  margin: 0;
}
.state {
  margin: 2px 0 0;
  color: var(--ink-soft);
}
.differences li {
  margin-block-start: 4px;
  padding-inline-start: 10px;
  border-inline-start: 1px solid var(--rule);
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  margin-block-start: 8px;
}
.push {
  margin-inline-start: auto;
}
</style>
