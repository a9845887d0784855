<script setup lang="ts">
import { words } from '~/words'
import { askListing, type ListingAnswer } from '~/service/listing-answer'
import type { ListingOrigin } from '~/storage/saved-grid'
import { fewRows } from '~/utils/few-rows'
import { formatCount } from '~/utils/format'

/** Where the answers of a service that lists rows hold what, and by which parameters it is asked; with what it answers. */
const mapping = defineModel<ListingOrigin>({ required: true })
const text = words.listing
const SETTLED_MS = 400

const set = (change: Partial<ListingOrigin>): void => void (mapping.value = { ...mapping.value, ...change })
const either = (given: string): string | undefined => given.trim() || undefined
const total = computed(() => {
  const { total: at } = mapping.value
  return typeof at === 'object' ? at.header : (at ?? '')
})
const setTotal = (given: string): void =>
  set({ total: given.startsWith('/') || given === '' ? either(given) : { header: given } })

const byNumber = computed(() => 'number' in mapping.value.page)
const PAGES = [
  { value: false, title: text.byRow },
  { value: true, title: text.byNumber },
]
const setByNumber = (on: boolean): void =>
  set({
    page: on ? { number: 'page', rows: 100, size: 'size' } : { from: 'offset', size: 'limit', most: 100 },
  })
const page = computed(() => mapping.value.page)
const rowsOfPage = computed(() => ('number' in page.value ? page.value.rows : (page.value.most ?? 100)))
function setPage(change: Record<string, string | number | undefined>): void {
  set({ page: { ...page.value, ...change } as ListingOrigin['page'] })
}
const positive = (given: string): number => Math.max(1, Math.min(10_000, Math.floor(Number(given)) || 100))

const answer = shallowRef<ListingAnswer | null>(null)
const problem = ref('')
/** Those of the last answer: while another is on its way, they are still chosen from. */
const fields = ref<readonly string[]>([])
watch(
  mapping,
  async (origin, _, onCleanup) => {
    const given = new AbortController()
    onCleanup(() => given.abort())
    await new Promise(resolve => setTimeout(resolve, SETTLED_MS))
    if (given.signal.aborted) return
    try {
      answer.value = await askListing(origin, given.signal)
      fields.value = answer.value.fields.map(({ key }) => key)
      problem.value = ''
    } catch (error) {
      if (given.signal.aborted) return
      answer.value = null
      problem.value = error instanceof Error ? error.message : String(error)
    }
  },
  { immediate: true },
)
</script>

<template>
  <div class="box" role="status">
    <p v-if="problem" class="held">{{ problem }}</p>
    <template v-else-if="answer">
      <p>{{ text.answers(formatCount(answer.rows), answer.counted) }}</p>
      <dl>
        <div v-for="field in answer.fields" :key="field.key">
          <dt>
            {{ field.key }} <span class="soft">{{ field.type }}</span>
          </dt>
          <dd class="figure">{{ field.samples }}</dd>
        </div>
      </dl>
    </template>
    <p v-else class="soft">{{ text.asking }}</p>
  </div>
  <div class="mapping">
    <VTextField
      :model-value="mapping.rows ?? ''"
      :label="text.rowsAt"
      :placeholder="text.itself"
      @change="set({ rows: either($event.target.value) })"
    />
    <VTextField :model-value="total" :label="text.totalAt" @change="setTotal($event.target.value.trim())" />
    <VTextField
      :model-value="[mapping.key].flat().join(', ')"
      :label="text.key"
      @change="set({ key: $event.target.value.split(',').map((name: string) => name.trim()) })"
    />
    <VSelect :model-value="byNumber" :items="PAGES" :label="text.parts" @update:model-value="setByNumber" />
    <template v-if="'number' in page">
      <VTextField
        :model-value="page.number"
        :label="text.number"
        @change="setPage({ number: $event.target.value })"
      />
      <VSelect
        :model-value="page.first ?? 1"
        :items="[0, 1]"
        :label="text.first"
        @update:model-value="setPage({ first: $event })"
      />
      <VTextField
        :model-value="page.size ?? ''"
        :label="text.size"
        @change="setPage({ size: either($event.target.value) })"
      />
    </template>
    <template v-else>
      <VTextField
        :model-value="page.from"
        :label="text.from"
        @change="setPage({ from: $event.target.value })"
      />
      <VTextField
        :model-value="page.size"
        :label="text.size"
        @change="setPage({ size: $event.target.value })"
      />
    </template>
    <VTextField
      :model-value="rowsOfPage"
      :label="text.rowsAtOnce"
      type="number"
      min="1"
      @change="setPage({ ['number' in page ? 'rows' : 'most']: positive($event.target.value) })"
    />
    <VTextField
      :model-value="mapping.order?.parameter ?? ''"
      :label="text.order"
      :placeholder="text.none"
      @change="
        set({
          order: $event.target.value.trim()
            ? { ...mapping.order, parameter: $event.target.value.trim() }
            : undefined,
        })
      "
    />
    <VTextField
      :model-value="mapping.search ?? ''"
      :label="text.search"
      :placeholder="text.none"
      @change="set({ search: either($event.target.value) })"
    />
    <VTextField
      :model-value="mapping.near ?? ''"
      :label="text.near"
      placeholder="5000"
      persistent-placeholder
      type="number"
      min="0"
      @change="set({ near: fewRows($event.target.value) })"
    />
  </div>
  <ListingConditions
    :model-value="mapping.conditions"
    :fields="fields"
    @update:model-value="set({ conditions: $event })"
  />
</template>

<style scoped>
.mapping {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 10px 8px;
}
.box {
  padding: 8px 10px;
  margin-block-end: 10px;
}
.box p {
  margin: 0;
}
dl {
  display: grid;
  gap: 3px;
  margin: 8px 0 0;
  max-block-size: 116px;
  overflow: auto;
}
dl div {
  display: flex;
  gap: 12px;
  justify-content: space-between;
}
dd {
  margin: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 12px;
}
dt {
  flex: none;
}
</style>
