import { words } from '~/words'

/** Where a source works, which it tells in plain English, in the language of the workshop. */
export function whereText(where: string): string {
  const { where: say } = words
  if (where === 'this page') return say.page
  if (where.startsWith('this page, cells')) return say.pageOnDemand
  const told = /^(a|\d+) workers?(, shared memory)?$/.exec(where)
  if (!told) return where
  const workers = say.workers(told[1] === 'a' ? 1 : Number(told[1]))
  return told[2] === undefined ? workers : say.shared(workers)
}
