import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  resolve: { alias: { '~': fileURLToPath(new URL('workshop/app', import.meta.url)) } },
  test: {
    include: ['packages/*/test/**/*.test.ts', 'workshop/test/**/*.test.ts'],
    setupFiles: ['scripts/seed-random-tests.mjs'],
    testTimeout: 180_000,
    // Servers of databases are made beforehand.
    hookTimeout: 180_000,
  },
})
