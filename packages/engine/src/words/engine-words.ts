import type { ConditionWords } from '../condition/kinds/kind.ts'
import type { SummaryKind } from '../summary/summary.ts'
import type { checkProblemText } from './check-problem-text.ts'
import type { differenceText } from './difference-text.ts'
import type { expressionProblemText, typeWords } from './expression-problem-text.ts'
import type { findingText, remedyText } from './finding-text.ts'
import type { leftOutText, linkProblemText } from './left-out-text.ts'
import type { partProblemText } from './part-problem-text.ts'
import type { phraseProblemText } from './phrase-problem-text.ts'
import type {
  columnSentences,
  ENCODING_NAMES,
  FORMAT_NAMES,
  generalSentences,
  readProblemText,
} from './read-report-text.ts'
import type { sceneDifferenceText } from './scene-difference-text.ts'
import type { refusalText } from './refusal-text.ts'
import type { remarkText } from './remark-text.ts'
import type { problemText } from './source-problem-text.ts'
import type { styleText } from './style-text.ts'

/** All sentences of the engine in one language: each is given a code with its facts. */
export interface EngineWords {
  readonly conditions: Omit<ConditionWords, 'own'>
  readonly summaries: Readonly<Record<SummaryKind, string>>
  readonly difference: typeof differenceText
  readonly leftOut: typeof leftOutText
  readonly linkProblem: typeof linkProblemText
  readonly checkProblem: typeof checkProblemText
  readonly expressionProblem: typeof expressionProblemText
  readonly partProblem: typeof partProblemText
  readonly phraseProblem: typeof phraseProblemText
  readonly readProblem: typeof readProblemText
  readonly sourceProblem: typeof problemText
  readonly refusal: typeof refusalText
  /** What a source remarks besides how rows were read. */
  readonly remark: typeof remarkText
  readonly finding: typeof findingText
  readonly remedy: typeof remedyText
  readonly style: typeof styleText
  /** A type of an expression’s result: “a number”. */
  readonly type: typeof typeWords
  /** What is otherwise than a scene has it. */
  readonly scene: typeof sceneDifferenceText
  readonly general: typeof generalSentences
  readonly ofColumns: typeof columnSentences
  readonly formats: typeof FORMAT_NAMES
  readonly encodings: typeof ENCODING_NAMES
}
