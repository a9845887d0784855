import { fileURLToPath } from 'node:url'
import { defineConfig } from '@playwright/test'

const PORT = 4173
const MEASURED = ['frames', 'length', 'mounting']

export default defineConfig({
  testDir: 'tests',
  outputDir: 'test-results',
  // Generous: the same test takes five times as long on a machine that others use too.
  timeout: 180_000,
  expect: { timeout: Number(process.env.EXPECT_MS ?? 30_000) },
  workers: 2,
  ...(process.env.CHECK_ALL ? {} : { grepInvert: /@all/ }),
  // A slow machine may miss one; the list names every test that needed a second run.
  retries: 1,
  reporter: [['list'], ['json', { outputFile: '../.cache/e2e.json' }]],
  // What is measured wants the machine for itself: one after another, when all others are done.
  projects: [
    { name: 'most', testIgnore: MEASURED.map(name => `${name}.spec.ts`) },
    ...MEASURED.map((name, nth) => ({
      name,
      testMatch: `${name}.spec.ts`,
      dependencies: [nth === 0 ? 'most' : MEASURED[nth - 1]!],
    })),
  ],
  use: {
    baseURL: `http://localhost:${PORT}`,
    viewport: { width: 1280, height: 800 },
    permissions: ['clipboard-read', 'clipboard-write'],
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
      // Scrollbars take room, as they do for most people at a desk.
      ignoreDefaultArgs: ['--hide-scrollbars'],
    },
  },
  webServer: {
    command: 'node ../workshop/.output/server/index.mjs',
    env: {
      PORT: String(PORT),
      ROWS_HOSTS: `localhost:${PORT}`,
      // Few enough to be made while a test waits.
      SIGHTINGS_ROWS: '200000',
      SIGHTINGS_FOLDER: fileURLToPath(new URL('../.cache/e2e-sightings', import.meta.url)),
    },
    url: `http://localhost:${PORT}`,
    reuseExistingServer: false,
  },
})
