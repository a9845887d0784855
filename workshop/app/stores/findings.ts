import { words } from '~/words'
import { bindingFindings, isAble, type Finding, type KeyCheck, type Remedy } from '@vast-meadow/engine'
import { defineStore } from 'pinia'
import { useOpenGrid } from './open-grid'

/** What is noticed about the open grid's definition on its rows. */
export const useFindings = defineStore('findings', () => {
  const grid = useOpenGrid()
  const proposedKeys = shallowRef<readonly KeyCheck[]>([])
  const key = shallowRef<KeyCheck | null>(null)
  const keyName = computed(() => JSON.stringify(grid.definition?.key ?? []))

  /** Keys are looked at in the engine; the rest follows from what is known here. */
  watch(
    () => grid.description,
    async description => {
      proposedKeys.value = []
      const source = grid.handle?.source
      if (!isAble(description?.can.questions, 'proposeKeys') || !source) return
      const proposed = await source.ask('proposeKeys', {}).catch(() => [])
      if (grid.description === description) proposedKeys.value = proposed
    },
  )
  watch([() => grid.description, keyName], async ([description]) => {
    key.value = null
    const fields = [...(grid.definition?.key ?? [])]
    const source = grid.handle?.source
    if (!description || !source || fields.length === 0 || description.can.commit !== true) return
    const check = await source.ask('checkKey', { keyFields: fields }).catch(() => null)
    if (keyName.value === JSON.stringify(fields) && grid.description === description) key.value = check
  })

  const findings = computed<readonly Finding[]>(() => {
    const { definition, description, arrangement, report } = grid
    if (!definition || !description) return []
    return bindingFindings({
      definition,
      fields: description.fields,
      samples: description.samples,
      readings: description.reading?.columns ?? [],
      key: key.value,
      expressions: grid.handle?.expressionProblems ?? [],
      proposedKeys: proposedKeys.value,
      ...(arrangement && report ? { arranged: { arrangement, report } } : {}),
    })
  })

  async function apply(finding: Finding, remedy: Remedy): Promise<void> {
    if (remedy.kind === 'read') return await grid.readColumn(remedy.key, remedy.as)
    if (remedy.kind === 'arrange') return grid.change(remedy.change)
    const nearest = finding.code === 'field-not-in-data' ? finding.nearest : null
    const renames = nearest !== null && remedy.definition.columns.some(({ key }) => key === nearest)
    if (renames && finding.code === 'field-not-in-data') return await grid.rename(finding.key, nearest)
    await grid.define(NAMES[finding.code] ?? 'remedy', remedy.definition)
  }

  return { findings, key, proposedKeys, apply }
})

const NAMES: Partial<Record<Finding['code'], string>> = {
  'field-not-in-data': words.findings.columnTakenOut,
  'key-not-in-data': 'key',
  'key-missing': 'key',
  'key-doubled': 'key',
  'no-key': 'key',
  'detail-column-absent': 'details',
  'deletes-without-key': 'key',
  'changes-without-key': 'key',
  'choices-absent': 'choices',
  'title-missing': 'title',
  'title-doubled': 'title',
  'width-cuts-off': 'width',
  'format-hides': 'decimals',
  'order-refused': words.findings.whoMayOrder,
  'ordered-as-text': words.findings.orderOfAColumn,
}
