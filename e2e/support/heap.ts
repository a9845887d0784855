import type { CDPSession } from '@playwright/test'

interface Snapshot {
  snapshot: { meta: { node_fields: string[]; node_types: [string[], ...unknown[]] } }
  nodes: number[]
}

/** What a page makes itself. Not the machine's code for its functions, nor what an open inspector notes down. */
const OWN_KINDS = new Set([
  'object',
  'closure',
  'array',
  'string',
  'concatenated string',
  'sliced string',
  'regexp',
  'number',
  'symbol',
  'bigint',
])

/**
 * Bytes of the objects, arrays, functions and texts that live in a page. `Runtime.getHeapUsage` counts compiled code
 * as well, which goes on growing for a thousand rounds of the same functions while nothing is left behind.
 */
export async function ownBytes(cdp: CDPSession): Promise<number> {
  const chunks: string[] = []
  const listen = ({ chunk }: { chunk: string }): void => void chunks.push(chunk)
  cdp.on('HeapProfiler.addHeapSnapshotChunk', listen)
  await cdp.send('HeapProfiler.takeHeapSnapshot', { reportProgress: false })
  cdp.off('HeapProfiler.addHeapSnapshotChunk', listen)
  const { snapshot, nodes } = JSON.parse(chunks.join('')) as Snapshot
  const { node_fields: fields, node_types: types } = snapshot.meta
  const [kind, size] = [fields.indexOf('type'), fields.indexOf('self_size')]
  let bytes = 0
  for (let at = 0; at < nodes.length; at += fields.length)
    if (OWN_KINDS.has(types[0][nodes[at + kind]])) bytes += nodes[at + size]
  return bytes
}
