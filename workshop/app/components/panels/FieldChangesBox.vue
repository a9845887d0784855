<script setup lang="ts">
import { words } from '~/words'
import { columnFor } from '@vast-meadow/engine'
import { useOpenGrid } from '~/stores/open-grid'
import { formatCount } from '~/utils/format'
import { sure } from '@vast-meadow/engine/client'

/** What is different about the fields since the rows were replaced. */
const grid = useOpenGrid()
const changes = computed(() => sure(grid.fieldChanges))

async function addAll(): Promise<void> {
  const { fields, samples } = grid.now.description
  const wanted = new Set(changes.value.added)
  const columns = fields.flatMap((field, i) =>
    wanted.has(field.key) ? [columnFor(field, samples[i] ?? [])] : [],
  )
  await grid.define(words.fieldChangesBox.columnsForNewFields, {
    ...grid.now.definition,
    columns: [...grid.now.definition.columns, ...columns],
  })
  settle(change => ({ ...change, added: [] }))
}

async function takeOut(key: string): Promise<void> {
  const columns = grid.now.definition.columns.filter(column => column.key !== key)
  await grid.define(words.fieldChangesBox.columnTakenOut, { ...grid.now.definition, columns })
  settle(change => ({ ...change, gone: change.gone.filter(column => column.key !== key) }))
}

function settle(change: (now: typeof changes.value) => typeof changes.value): void {
  const next = change(changes.value)
  grid.fieldChanges = next.gone.length + next.added.length > 0 ? next : null
}
</script>

<template>
  <section class="box changes" :aria-label="words.fieldChangesBox.whatChangedAmongTheFields">
    <p class="row">
      <b>{{ words.fieldChangesBox.theFieldsChanged }}</b>
      <button type="button" class="link-button push" @click="grid.fieldChanges = null">
        {{ words.fieldChangesBox.leaveItSo }}
      </button>
    </p>
    <ul>
      <li v-for="{ key, renamedTo } in changes.gone" :key="key">
        <span
          ><b>{{ grid.titleOf(key) }}</b> {{ words.fieldChangesBox.hasNoFieldAnyMore }}</span
        >
        <span class="ways">
          <VBtn v-if="renamedTo !== null" size="small" @click="grid.rename(key, renamedTo)">{{
            words.fieldChangesBox.itIsNow(renamedTo)
          }}</VBtn>
          <VBtn size="small" @click="takeOut(key)">{{ words.fieldChangesBox.removeTheColumn }}</VBtn>
        </span>
      </li>
    </ul>
    <p v-if="changes.added.length > 0" class="added">
      {{
        words.fieldChangesBox.newWord(
          changes.added.length === 1
            ? words.fieldChangesBox.oneFieldIs
            : words.fieldChangesBox.fieldsAre(formatCount(changes.added.length)),
          changes.added.slice(0, 6).join(', '),
          changes.added.length > 6 ? ', …' : '',
        )
      }}
      <VBtn size="small" @click="addAll">{{
        words.fieldChangesBox.add(words.fieldChangesBox.columns(changes.added.length))
      }}</VBtn>
    </p>
  </section>
</template>

<style scoped>
section.changes.box {
  border-inline-start: 3px solid var(--straw);
  display: grid;
  gap: 8px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
}
li {
  display: grid;
  gap: 4px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.added {
  overflow-wrap: anywhere;
}
</style>
