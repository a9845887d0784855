/** Long cases: `./check --all` runs them, `./check` does not. */
export const ALL = { tag: '@all' }
