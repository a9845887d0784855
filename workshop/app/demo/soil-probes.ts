import type { DefinitionInput, RecipeInput } from '@vast-meadow/engine'

const MEASURES = [
  { key: 'moisture', title: 'Moisture', from: 0, to: 1, decimals: 3 },
  { key: 'temperature', title: '°C', from: -4, to: 28, decimals: 1 },
  { key: 'ph', title: 'pH', from: 4, to: 8.5, decimals: 2 },
  { key: 'nitrate', title: 'Nitrate', from: 0, to: 60, decimals: 1 },
] as const
const DEPTHS = [5, 10, 20, 30, 45, 60, 80, 100, 130, 160, 200]
const COLUMNS = 1000

/** A table for width: a probe's number, its place, and 998 measures by kind, under headings of their depth and hour. */
export function soilProbes(rows: number): { recipe: RecipeInput; definition: DefinitionInput } {
  const measures = Array.from({ length: COLUMNS - 2 }, (_, i) => {
    const measure = MEASURES[i % MEASURES.length]
    const depth = DEPTHS[Math.floor(i / MEASURES.length) % DEPTHS.length]
    const hour = Math.floor(i / (MEASURES.length * DEPTHS.length))
    return {
      ...measure,
      key: `${measure.key}_${depth}cm_${hour}h`,
      title: `${measure.title} ${depth} cm, ${hour} h`,
      under: `${depth}cm ${hour}h`,
      hour,
      depth,
    }
  })
  const depths = new Map(measures.map(({ under, depth, hour }) => [under, { depth, hour }]))
  const hours = [...new Set(measures.map(({ hour }) => hour))]
  const headings = [
    ...hours.map(hour => ({ key: `${hour}h`, title: `Hour ${hour}` })),
    ...[...depths].map(([key, { depth, hour }]) => ({ key, title: `${depth} cm deep`, under: `${hour}h` })),
  ]
  const recipe: RecipeInput = {
    name: 'Soil probes',
    rows,
    seed: 7,
    columns: [
      { key: 'probe', kind: 'count', start: 1 },
      { key: 'field', kind: 'pick', of: ['North field', 'South field', 'Long field', 'Glebe', 'Water mead'] },
      ...measures.map(({ key, from, to, decimals }) => ({
        key,
        kind: 'number' as const,
        from,
        to,
        decimals,
      })),
    ],
  }
  const definition: DefinitionInput = {
    format: 'vast-meadow-grid',
    version: 3,
    title: 'Soil probes',
    key: ['probe'],
    columns: [
      { key: 'probe', title: 'Probe', width: 78, align: 'end' },
      { key: 'field', title: 'Field', width: 116 },
      ...measures.map(({ key, title, under }) => ({
        key,
        title,
        under,
        width: 148,
        align: 'end' as const,
      })),
    ],
    headings,
    start: { pinnedStart: ['probe'] },
  }
  return { recipe, definition }
}
