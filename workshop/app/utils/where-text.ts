import { words } from '~/words'

/** Where a source works, which it tells in plain English, in the language of the workshop. */
export function whereText(where: string): string {
  const { where: say } = words
  if (where === 'this page') return say.page
  if (where.startsWith('this page, cells')) return say.pageOnDemand
  const all = /^this page, with all rows of (.+)$/.exec(where)
  if (all) return say.pageWithAll(all[1] ?? '')
  const service = /^the service at (.+)$/.exec(where)
  if (service) return say.service(service[1] ?? '')
  const told = /^(a|\d+) workers?(, shared memory)?$/.exec(where)
  if (!told) return where
  const workers = say.workers(told[1] === 'a' ? 1 : Number(told[1]))
  return told[2] === undefined ? workers : say.shared(workers)
}
