<script setup lang="ts">
import { words } from '~/words'
import { guessListing } from '~/service/guess-listing'
import { answerAt } from '~/service/listing-answer'
import { rowsOfService } from '~/service/service-address'
import type { ListingOrigin } from '~/storage/saved-grid'

const { add, addService, addListing } = defineProps<{
  add: (address: string) => Promise<void>
  addService: (address: string, rows: string) => Promise<void>
  addListing: (origin: ListingOrigin) => Promise<void>
}>()
const open = defineModel<boolean>({ required: true })
const address = ref('')
/** What is at the address: a file, a service that speaks OData, or one that lists rows in a way of its own. */
const kind = ref<'file' | 'service' | 'listing'>('file')
/** How the service lists rows; null: it was not asked yet. */
const listing = shallowRef<ListingOrigin | null>(null)
/** What the service at the address holds; null: it was not asked yet. */
const names = shallowRef<readonly string[] | null>(null)
const chosen = ref<string | null>(null)
const STAND_IN = '/api/stand-in/rows'
const OWN_SERVICE = '/api/service'
const latency = ref(0)
const fail = ref(0)

watch([address, kind, open], () => {
  names.value = null
  chosen.value = null
  listing.value = null
})

const useStandIn = (): void => {
  const manner = `latency=${latency.value}&fail=${fail.value}`
  address.value = `${STAND_IN}?${kind.value === 'listing' ? 'page=0&size=100&' : ''}${manner}`
}

const does = computed(() =>
  kind.value === 'file'
    ? words.addressDialog.fetchThem
    : (names.value ?? listing.value)
      ? words.addressDialog.openThem
      : words.addressDialog.look,
)

/** A service is looked at first; where it holds rows of one name alone, these are opened at once. */
async function act(): Promise<boolean> {
  const at = address.value.trim().replace(/\/+$/, '')
  if (kind.value === 'file') {
    await add(address.value.trim())
    return true
  }
  if (kind.value === 'listing') {
    if (listing.value) {
      await addListing(listing.value)
      return true
    }
    listing.value = guessListing(at, await answerAt(at))
    return false
  }
  if (!names.value) {
    const found = await rowsOfService(at)
    names.value = found
    chosen.value = found.length === 1 ? (found[0] ?? null) : null
    return false
  }
  if (chosen.value === null) throw new Error(words.addressDialog.chooseRows)
  await addService(at, chosen.value)
  return true
}
</script>

<template>
  <ShelfDialog v-model="open" :title="words.addressDialog.rowsFromAnAddress" :does="does" :act="act">
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
    <VRadioGroup v-model="kind" class="what-is-there" :label="words.addressDialog.whatIsThere" hide-details>
      <VRadio value="file" :label="words.addressDialog.aFile" />
      <VRadio value="service" :label="words.addressDialog.speaksOData" />
      <VRadio value="listing" :label="words.addressDialog.listsRows" />
    </VRadioGroup>
    <p v-if="kind !== 'file'" class="soft">{{ words.addressDialog.staysThere }}</p>
    <ListingMapping v-if="listing" v-model="listing" />
    <VSelect v-if="names" v-model="chosen" :items="names" :label="words.addressDialog.rowsItHolds" />
    <fieldset>
      <legend>{{ words.addressDialog.noServiceAtHand }}</legend>
      <template v-if="kind === 'service'">
        <p class="soft">{{ words.addressDialog.ownService }}</p>
        <VBtn @click="address = OWN_SERVICE">{{ words.addressDialog.takeItsAddress }}</VBtn>
      </template>
      <template v-else>
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
      </template>
    </fieldset>
  </ShelfDialog>
</template>

<style scoped>
.what-is-there :deep(.v-label) {
  margin-inline-start: 0;
}
fieldset {
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  padding: 8px 12px 12px;
}
legend {
  font-weight: 600;
  padding-inline: 4px;
}
fieldset > .v-btn {
  margin-block-start: 8px;
}
.stand-in {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 8px;
  align-items: center;
  margin-block-start: 10px;
}
</style>
