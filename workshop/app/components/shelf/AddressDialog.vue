<script setup lang="ts">
const { add } = defineProps<{ add: (address: string) => Promise<void> }>()
const open = defineModel<boolean>({ required: true })
const address = ref('')
const STAND_IN = '/api/stand-in/rows'
const latency = ref(0)
const fail = ref(0)

const useStandIn = (): void => {
  address.value = `${STAND_IN}?latency=${latency.value}&fail=${fail.value}`
}
</script>

<template>
  <ShelfDialog v-model="open" title="Rows from an address" does="Fetch them" :act="() => add(address.trim())">
    <p class="soft">
      A file, or a service that answers with rows. Other hosts are reached through the workshop’s server,
      which only goes where its settings let it.
    </p>
    <VTextField
      v-model="address"
      v-focus
      label="Address"
      placeholder="https://"
      type="text"
      inputmode="url"
    />
    <fieldset>
      <legend>No service at hand?</legend>
      <p class="soft">One stands in here: 2,000 made-up rows in an envelope, slow or failing as you like.</p>
      <div class="stand-in">
        <VTextField v-model.number="latency" label="Answers after, ms" type="number" min="0" max="10000" />
        <VTextField v-model.number="fail" label="Fails, of 100" type="number" min="0" max="100" />
        <VBtn @click="useStandIn">Take its address</VBtn>
      </div>
    </fieldset>
  </ShelfDialog>
</template>

<style scoped>
fieldset {
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  padding: 8px 12px 12px;
}
legend {
  font-weight: 600;
  padding-inline: 4px;
}
.stand-in {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 8px;
  align-items: center;
  margin-block-start: 10px;
}
</style>
