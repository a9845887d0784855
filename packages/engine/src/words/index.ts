// All sentences of the engine, in English. Below are codes and their facts; a host that speaks another language words these.
export { conditionSummary } from './condition-summary.ts'
export { conditionWords } from './condition-words.ts'
export { differenceText, type ArrangementSpeaker } from './difference-text.ts'
export { expressionProblemText, typeWords } from './expression-problem-text.ts'
export { findingText, remedyText } from './finding-text.ts'
export { leftOutText, linkProblemText } from './left-out-text.ts'
export { partProblemText } from './part-problem-text.ts'
export { phraseProblemText } from './phrase-problem-text.ts'
export {
  columnSentences,
  faultText,
  FORMAT_NAMES,
  ENCODING_NAMES,
  generalSentences,
  readProblemText,
  reportSentences,
} from './read-report-text.ts'
export { refusalText } from './refusal-text.ts'
export { remarkText } from './remark-text.ts'
export { problemText } from './source-problem-text.ts'
export { styleText } from './style-text.ts'
export { summaryWords } from './summary-words.ts'
export { english } from './english.ts'
export type { EngineWords } from './engine-words.ts'
