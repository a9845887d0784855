import type { Feature } from '../../kernel/feature.ts'
import type { Kernel } from '../../kernel/kernel.ts'

const SAVE_AFTER_MS = 300

/** What a reader arranged is kept where the host says (`options.storage`), and is there again the next time. */
export function storage({ options, disposal }: Kernel): Feature {
  const { storage: kept } = options
  let timer = 0
  disposal.add(() => clearTimeout(timer))
  if (!kept) return { name: 'storage' }
  return {
    name: 'storage',
    begins: () => kept.load().catch(() => null),
    arranged(arrangement) {
      clearTimeout(timer)
      timer = window.setTimeout(() => void kept.save(arrangement).catch(() => {}), SAVE_AFTER_MS)
    },
  }
}
