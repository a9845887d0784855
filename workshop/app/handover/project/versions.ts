/** What a project that is handed over installs from the registry. The tests install just these. */
export const VERSIONS = {
  '@angular/build': '^20.3.0',
  '@angular/cli': '^20.3.0',
  '@angular/common': '^20.3.0',
  '@angular/compiler': '^20.3.0',
  '@angular/compiler-cli': '^20.3.0',
  '@angular/core': '^20.3.0',
  '@angular/platform-browser': '^20.3.0',
  '@sveltejs/vite-plugin-svelte': '^6.2.0',
  '@types/node': '^20.19.0',
  '@types/react': '^19.2.0',
  '@types/react-dom': '^19.2.0',
  '@vitejs/plugin-react': '^5.0.0',
  '@vitejs/plugin-vue': '^6.0.0',
  react: '^19.2.0',
  'react-dom': '^19.2.0',
  rxjs: '^7.8.0',
  svelte: '^5.39.0',
  'svelte-check': '^4.3.0',
  tslib: '^2.8.0',
  typescript: '^5.9.0',
  vite: '^7.1.0',
  vitest: '^3.2.4',
  vue: '^3.5.0',
  'vue-tsc': '^3.1.0',
  zod: '^4.1.0',
} as const

export type Tool = keyof typeof VERSIONS

/** The version of the packages that are handed over beside the code. */
export const OWN_VERSION = '0.1.0'

/** What the tarball of a package is called. */
export const tarballName = (name: string): string => `vast-meadow-${name}-${OWN_VERSION}.tgz`
