<script setup lang="ts">
import { words } from '~/words/english'
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
  <ShelfDialog
    v-model="open"
    :title="words.addressDialog.rowsFromAnAddress"
    :does="words.addressDialog.fetchThem"
    :act="() => add(address.trim())"
  >
    <p class="soft">
      {{ words.addressDialog.aFileOrAService }}
    </p>
    <VTextField
      v-model="address"
      v-focus
      :label="words.addressDialog.address"
      :placeholder="words.addressDialog.https"
      type="text"
      inputmode="url"
    />
    <fieldset>
      <legend>{{ words.addressDialog.noServiceAtHand }}</legend>
      <p class="soft">{{ words.addressDialog.oneStandsInHere2 }}</p>
      <div class="stand-in">
        <VTextField
          v-model.number="latency"
          :label="words.addressDialog.answersAfterMs"
          type="number"
          min="0"
          max="10000"
        />
        <VTextField
          v-model.number="fail"
          :label="words.addressDialog.failsOf100"
          type="number"
          min="0"
          max="100"
        />
        <VBtn @click="useStandIn">{{ words.addressDialog.takeItsAddress }}</VBtn>
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
