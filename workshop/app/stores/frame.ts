import { defineStore } from 'pinia'

export type FrameName = 'page' | 'card' | 'phone' | 'dragged'

export interface FrameBox {
  readonly width: number
  readonly height: number
}

/** Boxes in CSS px that grids are often put into; a page takes what there is. */
export const FRAMES: Readonly<Partial<Record<FrameName, FrameBox>>> = {
  card: { width: 560, height: 350 },
  phone: { width: 360, height: 640 },
}

const LEAST: FrameBox = { width: 240, height: 180 }

/** The box in which the workshop shows the live grid. */
export const useFrame = defineStore('frame', () => {
  const name = ref<FrameName>('page')
  const dragged = ref<FrameBox>({ width: 640, height: 480 })

  const box = computed<FrameBox | null>(() =>
    name.value === 'dragged' ? dragged.value : (FRAMES[name.value] ?? null),
  )

  function choose(wanted: FrameName): void {
    name.value = wanted
  }

  function drag(width: number, height: number): void {
    dragged.value = {
      width: Math.round(Math.max(LEAST.width, width)),
      height: Math.round(Math.max(LEAST.height, height)),
    }
    name.value = 'dragged'
  }

  return { name, box, choose, drag }
})
