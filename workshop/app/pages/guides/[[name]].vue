<script setup lang="ts">
import { words } from '~/words'
import { guideNamed, SHELVES, type Guide } from '~/guides/guides'
import { usePreferences } from '~/stores/preferences'
import GuideSearch from '~/components/guides/GuideSearch.vue'
import GuideText from '~/components/guides/GuideText.vue'

/** The guides that come with the packages, to be read and searched where the grid is built. */
const route = useRoute()
const guide = shallowRef<Guide | null>(null)
const missing = ref(false)
const FIRST = SHELVES[0].names[0]
usePreferences().apply()
useHead({ title: () => `${guide.value?.title ?? words.guides.guides} · Vast Meadow` })

watch(
  () => route.params.name,
  async given => {
    const name = typeof given === 'string' && given !== '' ? given : FIRST
    const found = await guideNamed(name)
    guide.value = found
    missing.value = !found
  },
  { immediate: true },
)
</script>

<template>
  <div class="guides">
    <header>
      <BrandMark />
      <h1>{{ words.guides.guides }}</h1>
      <span class="spacer" />
      <GuideSearch class="search-field" />
      <DarkToggle />
      <NuxtLink to="/" class="shelf-link">{{ words.guides.shelf }}</NuxtLink>
    </header>
    <div class="pages">
      <nav class="list" :aria-label="words.guides.guides">
        <template v-for="{ about, names } in SHELVES" :key="about">
          <p class="soft">{{ words.guides.about[about] }}</p>
          <NuxtLink v-for="name in names" :key="name" :to="`/guides/${name}`">{{
            words.guides.names[name]
          }}</NuxtLink>
        </template>
      </nav>
      <main>
        <GuideText v-if="guide" :text="guide.text" />
        <p v-else-if="missing" role="alert">{{ words.guides.thereIsNoSuch }}</p>
      </main>
    </div>
  </div>
</template>

<style scoped>
.guides {
  block-size: 100dvh;
  display: grid;
  grid-template-rows: var(--top-height) minmax(0, 1fr);
}
header {
  display: flex;
  align-items: center;
  gap: 14px;
  padding-inline: 14px;
  border-block-end: 1px solid var(--rule);
  background: var(--panel);
}
h1 {
  font: 600 14px var(--font-text);
  margin: 0;
}
.spacer {
  flex: 1;
}
.search-field {
  inline-size: min(300px, 40vw);
}
.shelf-link {
  color: var(--moss);
  font-weight: 500;
}
.pages {
  overflow: auto;
  display: grid;
  grid-template-columns: 216px minmax(0, 1fr);
  scroll-behavior: smooth;
}
@media (prefers-reduced-motion: reduce) {
  .pages {
    scroll-behavior: auto;
  }
}
.list {
  position: sticky;
  inset-block-start: 0;
  align-self: start;
  block-size: calc(100dvh - var(--top-height));
  box-sizing: border-box;
  padding: 16px 14px;
  display: flex;
  flex-direction: column;
  gap: 1px;
  border-inline-end: 1px solid var(--rule);
  overflow: auto;
  scrollbar-width: thin;
}
.list p {
  margin: 12px 0 2px;
  padding-inline: 8px;
  font-size: 12px;
}
.list a {
  padding: 4px 8px;
  border-radius: 6px;
  color: inherit;
  text-decoration: none;
}
.list a:hover {
  background: var(--rule-soft);
}
.list a.router-link-active {
  background: var(--moss-tint);
  color: var(--moss-ink);
}
main {
  display: grid;
  grid-template-columns: minmax(0, 780px) minmax(0, 1fr);
  gap: 34px;
  padding-inline: 34px 22px;
}
@media (width < 760px) {
  .pages {
    grid-template-columns: minmax(0, 1fr);
  }
  .list {
    position: static;
    block-size: auto;
    border-inline-end: 0;
    border-block-end: 1px solid var(--rule);
  }
  main {
    grid-template-columns: minmax(0, 1fr);
    padding-inline: 16px;
  }
}
</style>
