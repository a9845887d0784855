import { checkProblemText } from './check-problem-text.ts'
import { conditionWords } from './condition-words.ts'
import { differenceText } from './difference-text.ts'
import type { EngineWords } from './engine-words.ts'
import { expressionProblemText, typeWords } from './expression-problem-text.ts'
import { findingText, remedyText } from './finding-text.ts'
import { leftOutText, linkProblemText } from './left-out-text.ts'
import { partProblemText } from './part-problem-text.ts'
import { phraseProblemText } from './phrase-problem-text.ts'
import {
  columnSentences,
  ENCODING_NAMES,
  FORMAT_NAMES,
  generalSentences,
  readProblemText,
} from './read-report-text.ts'
import { refusalText } from './refusal-text.ts'
import { remarkText } from './remark-text.ts'
import { problemText } from './source-problem-text.ts'
import { sceneDifferenceText } from './scene-difference-text.ts'
import { styleText } from './style-text.ts'
import { summaryWords } from './summary-words.ts'

/** All sentences of the engine in English, which is what errors say where nobody words them anew. */
export const english: EngineWords = {
  conditions: conditionWords,
  summaries: summaryWords,
  difference: differenceText,
  leftOut: leftOutText,
  linkProblem: linkProblemText,
  checkProblem: checkProblemText,
  expressionProblem: expressionProblemText,
  partProblem: partProblemText,
  phraseProblem: phraseProblemText,
  readProblem: readProblemText,
  sourceProblem: problemText,
  refusal: refusalText,
  remark: remarkText,
  finding: findingText,
  remedy: remedyText,
  style: styleText,
  type: typeWords,
  scene: sceneDifferenceText,
  general: generalSentences,
  ofColumns: columnSentences,
  formats: FORMAT_NAMES,
  encodings: ENCODING_NAMES,
}
