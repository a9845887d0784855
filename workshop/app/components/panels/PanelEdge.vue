<script setup lang="ts">
import { words } from '~/words'
import { PANEL_WIDTHS, usePreferences } from '~/stores/preferences'

/** The edge by which the panel is made wider or narrower: dragged, or moved by arrows. */
const preferences = usePreferences()
const STEP_PX = 20
const held = shallowRef<{ readonly x: number; readonly width: number } | null>(null)

const turned = (event: Event): 1 | -1 =>
  event.target instanceof Element && getComputedStyle(event.target).direction === 'rtl' ? -1 : 1

function grab(event: PointerEvent): void {
  if (event.button !== 0) return
  held.value = { x: event.clientX, width: preferences.panelWidth }
  if (event.target instanceof Element) event.target.setPointerCapture(event.pointerId)
}

function drag(event: PointerEvent): void {
  if (held.value) preferences.setPanelWidth(held.value.width + turned(event) * (event.clientX - held.value.x))
}

function nudge(event: KeyboardEvent): void {
  const by = { ArrowLeft: -STEP_PX, ArrowRight: STEP_PX }[event.key]
  if (!by) return
  event.preventDefault()
  preferences.setPanelWidth(preferences.panelWidth + turned(event) * by)
}
</script>

<template>
  <div
    class="edge"
    role="separator"
    tabindex="0"
    aria-orientation="vertical"
    :aria-label="words.panelEdge.widthOfThePanel"
    :aria-valuenow="preferences.panelWidth"
    :aria-valuemin="PANEL_WIDTHS.least"
    :aria-valuemax="PANEL_WIDTHS.most"
    @pointerdown="grab"
    @pointermove="drag"
    @pointerup="held = null"
    @pointercancel="held = null"
    @keydown="nudge"
  />
</template>

<style scoped>
.edge {
  position: absolute;
  inset-block: 0;
  inset-inline-end: -4px;
  inline-size: 9px;
  cursor: ew-resize;
  touch-action: none;
  z-index: 1;
}
.edge::after {
  content: '';
  position: absolute;
  inset-block: 0;
  inset-inline-start: 3px;
  inline-size: 2px;
}
.edge:hover::after,
.edge:active::after {
  background: var(--moss);
}
</style>
