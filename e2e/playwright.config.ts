import { fileURLToPath } from 'node:url'
import { defineConfig } from '@playwright/test'

const PORT = 4173
/** The workshop once more, in pages that are not isolated. */
const PLAIN_PORT = 4174
const MEASURED = ['frames', 'length', 'mounting']
/** What else is tried on grids is tried in bare pages, which are not isolated. */
const ALSO_PLAIN = ['arranging', 'asking', 'columns']
const workshopAt = (port: number, more: Record<string, string> = {}) => ({
  command: 'node ../workshop/.output/server/index.mjs',
  env: {
    PORT: String(port),
    ROWS_HOSTS: `localhost:${port}`,
    // Few enough to be made while a test waits.
    SIGHTINGS_ROWS: '200000',
    SIGHTINGS_FOLDER: fileURLToPath(new URL('../.cache/e2e-sightings', import.meta.url)),
    ...more,
  },
  url: `http://localhost:${port}`,
  reuseExistingServer: false,
})

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
    ...(process.env.CHECK_ALL
      ? [
          {
            name: 'not isolated',
            // What says itself where the engine runs need not be told.
            grepInvert: /@all/,
            testMatch: ALSO_PLAIN.map(name => `${name}.spec.ts`),
            use: { baseURL: `http://localhost:${PLAIN_PORT}` },
          },
        ]
      : []),
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
  webServer: [
    workshopAt(PORT),
    ...(process.env.CHECK_ALL ? [workshopAt(PLAIN_PORT, { ISOLATION: 'none' })] : []),
  ],
})
