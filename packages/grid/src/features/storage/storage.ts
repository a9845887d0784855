import type { Arrangement } from '@vast-meadow/engine'
import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

const SAVE_AFTER_MS = 300

/** What a reader arranged is kept where the host says (`options.storage`), and is there again the next time. */
export function storage({ options, disposal }: Kernel): Feature {
  const { storage: kept } = options
  if (!kept) return { name: 'storage' }
  let timer = 0
  let unsaved: Arrangement | null = null
  const save = (): void => {
    clearTimeout(timer)
    if (unsaved) void kept.save(unsaved).catch(() => {})
    unsaved = null
  }
  // Who leaves the page, or takes the grid out of it, has arranged what he arranged.
  window.addEventListener('pagehide', save)
  disposal.add(() => {
    window.removeEventListener('pagehide', save)
    save()
  })
  return {
    name: 'storage',
    begins: () => kept.load().catch(() => null),
    arranged(arrangement) {
      unsaved = arrangement
      clearTimeout(timer)
      timer = window.setTimeout(save, SAVE_AFTER_MS)
    },
  }
}
