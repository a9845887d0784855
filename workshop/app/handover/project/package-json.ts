import { plainName } from '../code/code-text'
import { rowsFile, type HandedGrid } from '../handed-grid'
import { tarballName, VERSIONS, type Tool } from './versions'

interface Packages {
  /** Ours, from their tarballs. */
  readonly packages: readonly string[]
  readonly dependencies: readonly Tool[]
  readonly devDependencies: readonly Tool[]
  readonly scripts: Readonly<Record<string, string>>
}

/** What a project installs, and what can be run in it. */
export function packageJson(
  grid: HandedGrid,
  { packages, dependencies, devDependencies, scripts }: Packages,
): string {
  const own = packages.map(name => [`@vast-meadow/${name}`, `file:vendor/${tarballName(name)}`] as const)
  const versioned = (names: readonly Tool[]) => names.map(name => [name, VERSIONS[name]] as const)
  const sorted = (list: readonly (readonly [string, string])[]) =>
    Object.fromEntries([...list].sort(([a], [b]) => (a < b ? -1 : 1)))
  // A test of rows from a file reads it.
  const reads: readonly Tool[] = rowsFile(grid) === null ? [] : ['@types/node']
  const made = {
    name: plainName(grid.title),
    private: true,
    type: 'module',
    scripts,
    dependencies: sorted([...own, ...versioned([...dependencies, 'zod'])]),
    devDependencies: sorted(versioned([...reads, 'typescript', 'vitest', ...devDependencies])),
  }
  return `${JSON.stringify(made, null, 2)}\n`
}
