<script setup lang="ts">
import type { Field } from '@vast-meadow/engine'
import type { ExpressionView, WrongPart } from '~/expression-editor/expression-view'

/** The text of an expression in an editor, which is loaded when the first one is shown. */
const { label, fields, wrong, describedBy } = defineProps<{
  label: string
  fields: readonly Field[]
  wrong: WrongPart | null
  describedBy: string
}>()
const text = defineModel<string>({ required: true })
const place = useTemplateRef<HTMLElement>('place')
const view = shallowRef<ExpressionView | null>(null)
let gone = false

onMounted(async () => {
  const { makeExpressionView } = await import('~/expression-editor/expression-view')
  if (gone) return
  const changed = (now: string): void => void (text.value = now)
  const options = {
    parent: place.value!,
    text: text.value,
    label,
    describedBy,
    fields: () => fields,
    changed,
  }
  view.value = makeExpressionView(options)
})
onBeforeUnmount(() => {
  gone = true
  view.value?.destroy()
})
watch(text, now => view.value?.show(now))
// The text must stand there before its marks do.
watch([() => wrong, view], () => view.value?.mark(wrong), { flush: 'post' })
</script>

<template>
  <div ref="place" class="expression-text" :class="{ wrong }" />
</template>

<style scoped>
.expression-text {
  min-block-size: 46px;
  border: 1px solid var(--rule);
  border-radius: 6px;
  background: var(--paper);
}
.expression-text.wrong {
  border-color: var(--poppy);
}
.expression-text:focus-within {
  border-color: var(--cornflower);
  box-shadow: 0 0 0 1px var(--cornflower);
}
</style>
