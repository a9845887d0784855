import { words } from '~/words'
import type { ChangeList, SaveAnswer } from '@vast-meadow/engine'
import type { Answer } from '~/stores/trying-saves'

/** Plays the page's part in saving: the stand-in service answers as it was asked to. */
export async function triedSave(
  list: ChangeList,
  { how, latencyMs, keyField }: { how: Answer; latencyMs: number; keyField: string },
): Promise<SaveAnswer> {
  const query = new URLSearchParams({ how, latency: String(latencyMs), keyField })
  const response = await fetch(`/api/stand-in/save?${query}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(list),
  })
  if (!response.ok) {
    const told: unknown = await response.json().catch(() => null)
    const reason = typeof told === 'object' && told !== null && 'error' in told ? String(told.error) : ''
    throw new Error(reason || words.editingSettings.serviceSaid(response.status))
  }
  return (await response.json()) as SaveAnswer
}
