<script setup lang="ts">
import { words } from '~/words'
/** A dialog with a form; it stays open, and says why, where its act fails, and where it answers that more is to be said. */
const {
  title,
  act,
  does,
  width = 640,
} = defineProps<{ title: string; does: string; act: () => Promise<unknown>; width?: number }>()
const open = defineModel<boolean>({ required: true })
const busy = ref(false)
const problem = ref('')
const id = useId()

watch(open, () => (problem.value = ''))

async function submit(): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    if ((await act()) !== false) open.value = false
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <VDialog v-model="open" :max-width="width" scrollable :aria-labelledby="id">
    <form class="dialog" @submit.prevent="submit">
      <h2 :id="id">{{ title }}</h2>
      <div class="body"><slot /></div>
      <p v-if="problem" class="held" role="alert">{{ problem }}</p>
      <div class="acts">
        <VBtn @click="open = false">{{ words.shelfDialog.cancel }}</VBtn>
        <VBtn type="submit" color="primary" variant="flat" :loading="busy">{{ does }}</VBtn>
      </div>
    </form>
  </VDialog>
</template>

<style scoped>
.dialog {
  background: var(--panel);
  border: 1px solid var(--rule);
  border-radius: 12px;
  padding: 18px 20px;
  display: grid;
  gap: 12px;
  max-block-size: 88vh;
  grid-template-rows: auto minmax(0, 1fr) auto auto;
}
.body {
  overflow: auto;
  display: grid;
  gap: 12px;
  padding-block: 6px;
}
.acts {
  display: flex;
  justify-content: end;
  gap: 8px;
}
</style>
