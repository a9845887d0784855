import vuetify from 'vite-plugin-vuetify'

export default defineNuxtConfig({
  compatibilityDate: '2026-01-01',
  // The shelf and the rows live in the reader's browser; there is nothing to draw on the server.
  ssr: false,
  telemetry: false,
  devtools: { enabled: false },
  modules: ['@pinia/nuxt'],
  components: [{ path: '~/components', pathPrefix: false }],
  css: [
    'vuetify/styles',
    '@fontsource-variable/fraunces/index.css',
    '@fontsource-variable/instrument-sans/index.css',
    '@fontsource/ibm-plex-mono/400.css',
    '@fontsource/ibm-plex-mono/500.css',
    '~/assets/tokens.css',
    '~/assets/base.css',
    '~/assets/code-editor.css',
    '~/assets/code-colours.css',
    '~/assets/guides.css',
  ],
  build: { transpile: ['vuetify'] },
  app: {
    head: {
      title: 'Vast Meadow',
      htmlAttrs: { lang: 'en' },
      meta: [{ name: 'viewport', content: 'width=device-width, initial-scale=1' }],
      link: [{ rel: 'icon', type: 'image/svg+xml', href: '/icon.svg' }],
    },
  },
  vite: {
    plugins: [vuetify({ autoImport: true })],
    // The engine starts its worker from a URL beside its own module, which a pre-bundle would move.
    optimizeDeps: { exclude: ['@vast-meadow/engine', '@vast-meadow/grid', '@vast-meadow/vue'] },
    assetsInclude: ['**/*.csv'],
    worker: { format: 'es' },
    build: { chunkSizeWarningLimit: 900 },
  },
  typescript: {
    strict: true,
    // As in the packages: what an index gives is taken to be there.
    tsConfig: { compilerOptions: { noUncheckedIndexedAccess: false } },
  },
})
