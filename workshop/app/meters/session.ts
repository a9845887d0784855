import type { FlowReport, StageName } from '@vast-meadow/engine'

/** One change of the arrangement: from the act until its result was painted. */
export interface MeteredChange {
  readonly at: number
  /** What was changed, in a word or two. */
  readonly name: string
  /** Milliseconds until painted, and of them the stages that were computed again. */
  readonly ms: number
  readonly stages: readonly { readonly stage: StageName; readonly ms: number }[]
}

export interface MeteredFrame {
  readonly at: number
  readonly ms: number
  readonly elements: number
}

/** A change of the definition, from which on things may be quicker or slower. */
export interface DefinitionMark {
  readonly at: number
  readonly name: string
}

export interface MeterSession {
  readonly changes: readonly MeteredChange[]
  readonly frames: readonly MeteredFrame[]
  readonly marks: readonly DefinitionMark[]
}

export const emptySession: MeterSession = { changes: [], frames: [], marks: [] }

/** Kept of each; older ones are forgotten. */
const MOST = 240

const kept = <T>(list: readonly T[], next: T): readonly T[] => [...list.slice(1 - MOST), next]

export const withChange = (session: MeterSession, change: MeteredChange): MeterSession => ({
  ...session,
  changes: kept(session.changes, change),
})
export const withFrame = (session: MeterSession, frame: MeteredFrame): MeterSession => ({
  ...session,
  frames: kept(session.frames, frame),
})
export const withMark = (session: MeterSession, mark: DefinitionMark): MeterSession => ({
  ...session,
  marks: kept(session.marks, mark),
})

/** The stages that a report says were computed again. */
export const freshStages = ({ stages }: FlowReport): MeteredChange['stages'] =>
  stages.filter(({ fresh, ms }) => fresh && ms > 0).map(({ stage, ms }) => ({ stage, ms }))

/** So many figures on both sides make a comparison worth telling. */
const ENOUGH = 3
const COMPARED = 8
const SLOWER = 1.4
/** Differences below this are lost among the machine's own. */
const FELT_MS = 4

/** What a change of the definition made slower, in medians before and after it. */
export interface Slower {
  readonly mark: DefinitionMark
  readonly of: 'changes' | 'frames'
  readonly before: number
  readonly after: number
}

/** The definition's changes after which changes or frames took longer, as far as there are enough figures to say so. */
export function slowerMarks({ changes, frames, marks }: MeterSession): Slower[] {
  return marks.flatMap((mark, nth) => {
    const [from, to] = [marks[nth - 1]?.at ?? -Infinity, marks[nth + 1]?.at ?? Infinity]
    const compare = (of: Slower['of'], list: readonly { at: number; ms: number }[]): Slower[] => {
      const before = list.filter(({ at }) => at > from && at <= mark.at).slice(-COMPARED)
      const after = list.filter(({ at }) => at > mark.at && at <= to).slice(0, COMPARED)
      if (before.length < ENOUGH || after.length < ENOUGH) return []
      const [then, now] = [before, after].map(part => median(part.map(({ ms }) => ms)))
      return now > then * SLOWER && now - then > FELT_MS ? [{ mark, of, before: then, after: now }] : []
    }
    return [...compare('changes', changes), ...compare('frames', frames)]
  })
}

function median(values: number[]): number {
  const sorted = values.toSorted((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length % 2 === 1 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2
}
