<script setup lang="ts">
import { words } from '~/words'
import { findInGuides, type Found } from '~/guides/search'

/** Looks through all guides as it is typed; arrows go through what was found, Enter goes there. */
const text = ref('')
const found = shallowRef<readonly Found[]>([])
const at = ref(0)
const id = useId()

watch(text, async asked => {
  const next = asked.trim() === '' ? [] : await findInGuides(asked)
  if (text.value !== asked) return
  found.value = next
  at.value = 0
})

function go({ id: place }: Found): void {
  text.value = ''
  void navigateTo(`/guides/${place}`)
}

function keys(event: KeyboardEvent): void {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  const count = found.value.length
  if (step && count > 0) {
    at.value = (at.value + step + count) % count
    event.preventDefault()
  }
  if (event.key === 'Enter' && count > 0) go(found.value[at.value])
  if (event.key === 'Escape') text.value = ''
}
</script>

<template>
  <div class="search">
    <input
      v-model="text"
      type="search"
      role="combobox"
      aria-autocomplete="list"
      :aria-label="words.guides.searchTheGuides"
      :placeholder="words.guides.searchTheGuides"
      :aria-expanded="found.length > 0"
      :aria-controls="id"
      :aria-activedescendant="found.length > 0 ? `${id}-${at}` : undefined"
      @keydown="keys"
    />
    <ul v-show="found.length > 0" :id="id" role="listbox" :aria-label="words.guides.whatWasFound">
      <li
        v-for="(one, nth) in found"
        :id="`${id}-${nth}`"
        :key="one.id"
        role="option"
        :aria-selected="nth === at"
        @pointerdown.prevent="go(one)"
      >
        <span>{{ one.heading }}</span>
        <span v-if="one.heading !== one.guide" class="soft">{{ one.guide }}</span>
      </li>
    </ul>
    <p v-if="text.trim() !== '' && found.length === 0" class="none soft" role="status">
      {{ words.guides.nothingIsFound }}
    </p>
  </div>
</template>

<style scoped>
.search {
  position: relative;
}
input {
  inline-size: 100%;
  block-size: 32px;
  border: 1px solid var(--rule);
  border-radius: 6px;
  background: var(--sheet);
  color: inherit;
  font: inherit;
  padding-inline: 10px;
}
ul,
.none {
  position: absolute;
  z-index: 2;
  inset-block-start: 38px;
  inset-inline-end: 0;
  inline-size: min(420px, 86vw);
  margin: 0;
  padding: 5px;
  list-style: none;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  box-shadow: 0 6px 18px color-mix(in srgb, var(--ink) 16%, transparent);
}
.none {
  padding: 8px 11px;
}
li {
  display: flex;
  flex-direction: column;
  padding: 5px 9px;
  border-radius: 6px;
  cursor: pointer;
}
li[aria-selected='true'],
li:hover {
  background: var(--moss-tint);
  color: var(--moss-ink);
}
</style>
