<script setup lang="ts">
import { words } from '~/words'
import { directionOf, gridLanguageOf, usualLocale } from '~/words/grid-languages'
import type { ChangeList } from '@vast-meadow/engine'
import { VastMeadow } from '@vast-meadow/vue'
import { triedActions } from '~/demo/try-actions'
import type { Seed } from '~/demo/seed-tests'
import { triedDetails } from '~/demo/try-details'
import { triedSave } from '~/demo/try-saving'
import { followStream } from '~/demo/try-stream'
import { exportGrid } from '~/handover/export-grid'
import { useFrame } from '~/stores/frame'
import { useOpenGrid } from '~/stores/open-grid'
import { useTryingSaves } from '~/stores/trying-saves'
import { formatCount } from '~/utils/format'
import { sure } from '@vast-meadow/engine/client'

const grid = useOpenGrid()
const component = useTemplateRef<{ handle: Parameters<typeof grid.attach>[0] | null }>('component')

watch(
  () => component.value?.handle,
  handle => handle && grid.attach(handle),
)

/** As they were when the grid was mounted; later ones come from the grid itself. */
const definition = shallowRef(grid.saved?.definition ?? undefined)
const arrangement = shallowRef(grid.saved?.arrangement ?? undefined)

/** The language that the grid speaks; null: it is on its way. In another one it is mounted anew, as it is. */
const spoken = shallowRef<string | null>(null)
const locale = computed(() => (grid.definition ?? definition.value)?.locale ?? usualLocale)
watch(
  () => gridLanguageOf(locale.value),
  async ({ load, locale: wanted }) => {
    await load()
    if (gridLanguageOf(locale.value).locale !== wanted || spoken.value === wanted) return
    if (spoken.value !== null) {
      definition.value = grid.definition ?? definition.value
      arrangement.value = grid.arrangement ?? arrangement.value
    }
    spoken.value = wanted
  },
  { immediate: true },
)

const trying = useTryingSaves()
const parts = {
  ...triedActions(() => grid.definition ?? undefined),
  details: triedDetails,
  // A service saves by itself.
  ...(grid.saved?.origin.kind === 'service' ? {} : { save: tried }),
}
function tried(list: ChangeList) {
  const { how, latencyMs } = trying
  return triedSave(list, { how, latencyMs, keyField: grid.definition?.key[0] ?? 'id' })
}

watch(
  () => [component.value?.handle, trying.rate, grid.report !== null] as const,
  async ([handle, rate, there], _, onCleanup) => {
    let ended = false
    let end = (): void => {}
    onCleanup(() => {
      ended = true
      end()
    })
    if (!handle || rate === 0 || !there) return
    const close = await followStream(handle, rate, error => grid.failed(String(error)))
    if (ended) close()
    else end = close
  },
)
onBeforeUnmount(() => (trying.rate = 0))

const frame = useFrame()
const room = useTemplateRef<HTMLElement>('room')
const boxStyle = computed(() =>
  frame.box ? { inlineSize: `${frame.box.width}px`, blockSize: `${frame.box.height}px` } : {},
)
const held = shallowRef<{ x: number; y: number; width: number; height: number } | null>(null)
const NUDGE_PX = 10

const sizeNow = (): DOMRect => sure(room.value?.querySelector('.frame')).getBoundingClientRect()

function grab(event: PointerEvent): void {
  if (event.button !== 0) return
  const { width, height } = sizeNow()
  held.value = { x: event.clientX, y: event.clientY, width, height }
  if (event.target instanceof Element) event.target.setPointerCapture(event.pointerId)
}

function dragTo(event: PointerEvent): void {
  if (!held.value) return
  const { x, y, width, height } = held.value
  const turned = getComputedStyle(sure(room.value)).direction === 'rtl' ? -1 : 1
  frame.drag(width + turned * (event.clientX - x), height + event.clientY - y)
}

function nudge(event: KeyboardEvent): void {
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
  if (!by) return
  event.preventDefault()
  const { width, height } = sizeNow()
  frame.drag(width + by[0] * NUDGE_PX, height + by[1] * NUDGE_PX)
}

/** Choosing a header opens its column; while the order is looked at, headers only order. */
function chosen(column: string): void {
  if (grid.panel !== 'order') grid.openColumn(column)
}

async function exported(): Promise<void> {
  const present = grid.present()
  if (present) await exportGrid(present, (await grid.fileForHandover().catch(() => null)) ?? undefined)
}
</script>

<template>
  <div ref="room" class="room">
    <div class="frame as-workshop" :class="{ boxed: frame.box }" :style="boxStyle" :dir="directionOf(locale)">
      <VastMeadow
        v-if="spoken"
        :key="spoken"
        ref="component"
        class="grid"
        :definition="definition"
        :arrangement="arrangement"
        :source="grid.input!"
        :parts="parts"
        :locale="usualLocale"
        @open="grid.opened($event.description)"
        @progress="grid.progress = $event"
        @problem="grid.failed($event.message)"
        @flow="grid.flowed($event.report)"
        @arrangement="grid.arranged($event.arrangement, $event.why)"
        @selection="grid.selected = $event.count"
        @measures="grid.measures = $event"
        @column="chosen($event.column)"
        @why="grid.traceKey($event.key)"
      >
        <template #detail:accession="{ record, close }">
          <SeedCard :seed="record as unknown as Seed" @close="close" />
        </template>
      </VastMeadow>
      <div v-if="grid.progress" :class="grid.report || grid.coming ? 'strip' : 'cancel'">
        <template v-if="grid.report || grid.coming">
          <span>{{ grid.progress.doing }}</span>
          <VProgressLinear
            :model-value="grid.progress.done"
            :max="grid.progress.of"
            color="primary"
            :aria-label="grid.progress.doing"
          />
          <span class="figure">
            {{
              words.gridFrame.ofWord(
                formatCount(grid.progress.done),
                formatCount(grid.progress.of),
                grid.progress.unit,
              )
            }}
          </span>
        </template>
        <VBtn size="small" @click="grid.cancelLoading()">{{ words.gridFrame.cancel }}</VBtn>
      </div>
      <p v-if="grid.saveProblem" class="problem not-saved" role="alert">
        <span>{{ words.gridFrame.notSaved(grid.saveProblem) }}</span>
        <VBtn size="small" @click="exported">{{ words.gridFrame.exportTheGrid }}</VBtn>
      </p>
      <p v-if="grid.problem && grid.report" class="problem" role="alert">
        <span>{{ grid.problem }}</span>
        <span class="soft">{{ words.gridFrame.theGridOfRowsThat(formatCount(grid.report.total)) }}</span>
        <VBtn size="small" @click="grid.problem = ''">{{ words.gridFrame.dismiss }}</VBtn>
      </p>
      <button
        type="button"
        class="corner"
        :aria-label="
          frame.box
            ? words.gridFrame.frameOfPxArrowsChange(frame.box.width, frame.box.height)
            : words.gridFrame.sizeOfTheFrameArrows
        "
        @pointerdown="grab"
        @pointermove="dragTo"
        @pointerup="held = null"
        @pointercancel="held = null"
        @keydown="nudge"
      />
    </div>
    <p v-if="frame.box" class="size figure">{{ frame.box.width }} × {{ frame.box.height }}</p>
  </div>
</template>

<style scoped>
.room {
  block-size: 100%;
  overflow: auto;
}
/* The corner by which the frame is dragged covers nothing of the grid. */
.grid::part(foot) {
  padding-inline-end: 22px;
}
.corner {
  position: absolute;
  inset-block-end: 1px;
  inset-inline-end: 1px;
  inline-size: 16px;
  block-size: 16px;
  padding: 0;
  border: 0;
  background: linear-gradient(135deg, transparent 50%, var(--bar-idle) 50%);
  border-end-end-radius: 7px;
  cursor: nwse-resize;
  touch-action: none;
  z-index: 3;
}
.corner:dir(rtl) {
  transform: scaleX(-1);
  cursor: nesw-resize;
}
.frame.boxed {
  margin-inline: auto;
  max-inline-size: none;
}
.size {
  text-align: center;
  font-size: 11px;
  color: var(--ink-soft);
  margin-block-start: 6px;
}
.frame {
  position: relative;
  block-size: 100%;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  overflow: clip;
  box-shadow: 0 10px 30px -24px #0009;
}
.cancel {
  position: absolute;
  inset-block-start: calc(50% + 70px);
  inset-inline: 0;
  display: grid;
  justify-content: center;
  z-index: 3;
}
.strip {
  position: absolute;
  inset-block-end: 0;
  inset-inline: 0;
  display: flex;
  /* In a narrow frame the bar goes first, and then the line breaks: the button stays within reach. */
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  padding: 8px 14px;
  background: var(--panel);
  border-block-start: 1px solid var(--rule);
  z-index: 4;
}
.strip :deep(.v-progress-linear) {
  flex: 1 1 40px;
  inline-size: auto;
}
.strip .figure {
  flex: 0 1 auto;
}
.strip .v-btn {
  margin-inline-start: auto;
}
.problem {
  position: absolute;
  inset-block-end: 44px;
  inset-inline: 16px;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  padding: 10px 14px;
  border: 1px solid var(--poppy);
  border-radius: var(--radius);
  background: var(--sheet);
  color: var(--poppy);
  z-index: 4;
}
</style>
