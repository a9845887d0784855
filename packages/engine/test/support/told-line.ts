import type { Line } from '../../src/flow/line.ts'
import type { OracleLine } from './oracle-groups.ts'

/** A line as the plain version tells it. */
export function toldLine(line: Line): OracleLine {
  if (line.kind === 'row') return { row: Number(line.row) }
  if (line.kind === 'detail' || line.kind === 'new') throw new Error(line.kind)
  const key = line.path.at(-1) ?? null
  const told = { key: key === 0 ? 0 : key, level: line.level, count: line.count }
  return line.kind === 'foot' ? { ...told, foot: true } : told
}
