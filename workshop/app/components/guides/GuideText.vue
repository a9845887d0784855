<script setup lang="ts">
import { renderGuide, type RenderedGuide } from '~/guides/render'
import { words } from '~/words'

/** A guide as it is read, with what stands on its page beside it. */
const { text } = defineProps<{ text: string }>()
const rendered = shallowRef<RenderedGuide | null>(null)
const route = useRoute()
const article = useTemplateRef('article')

watch(
  () => text,
  async given => {
    const made = await renderGuide(given)
    if (given !== text) return
    rendered.value = made
    await nextTick()
    goTo(route.hash)
  },
  { immediate: true },
)
watch(
  () => route.hash,
  hash => goTo(hash),
)

function goTo(hash: string): void {
  const place = hash ? document.getElementById(decodeURIComponent(hash.slice(1))) : null
  if (place) place.scrollIntoView()
  else article.value?.closest('.pages')?.scrollTo(0, 0)
}

/** Links between guides do not load the workshop anew. */
function follow(event: MouseEvent): void {
  const link = event.target instanceof Element ? event.target.closest('a') : null
  const href = link?.getAttribute('href') ?? ''
  if (event.defaultPrevented || event.button !== 0 || event.ctrlKey || event.metaKey || event.shiftKey) return
  if (!href.startsWith('/guides/') && !href.startsWith('#')) return
  event.preventDefault()
  void navigateTo(href.startsWith('#') ? { hash: href } : href)
}
</script>

<template>
  <!-- What is shown is the project's own text, in which HTML is not read as such. -->
  <!-- eslint-disable vue/no-v-html -->
  <article v-if="rendered" ref="article" class="guide" @click="follow" v-html="rendered.html" />
  <!-- eslint-enable vue/no-v-html -->
  <nav v-if="rendered && rendered.headings.length > 1" class="here" :aria-label="words.guides.onThisPage">
    <p class="soft">{{ words.guides.onThisPage }}</p>
    <NuxtLink v-for="one in rendered.headings" :key="one.anchor" :to="{ hash: `#${one.anchor}` }">{{
      one.text
    }}</NuxtLink>
  </nav>
</template>

<style scoped>
.here {
  position: sticky;
  inset-block-start: 0;
  align-self: start;
  padding-block-start: 26px;
  display: flex;
  flex-direction: column;
  gap: 5px;
  font-size: 12.5px;
}
.here p {
  margin: 0;
}
.here a {
  color: var(--ink-soft);
  text-decoration: none;
}
.here a:hover {
  color: var(--moss);
  text-decoration: underline;
}
@media (width < 1080px) {
  .here {
    display: none;
  }
}
</style>
