import { english as sentencesInEnglish, type EngineWords } from '@vast-meadow/engine'
import { defaultTexts, type Texts } from '@vast-meadow/grid'
import { words as inEnglish, type Words } from './english'
import { language, type Language } from './languages'

/** All that is said in one language: by the workshop, by the engine, and by the grid. */
interface Spoken {
  readonly words: Words
  readonly sentences: EngineWords
  readonly texts: Texts
}

const SPEAKERS: Readonly<Record<Language, () => Promise<Spoken>>> = {
  en: () => Promise.resolve({ words: inEnglish, sentences: sentencesInEnglish, texts: defaultTexts }),
  async de() {
    const [{ words }, { german: sentences }, { german: texts }] = await Promise.all([
      import('./german'),
      import('@vast-meadow/engine/german'),
      import('@vast-meadow/grid/german'),
    ])
    return { words, sentences, texts }
  },
  async ar() {
    const [{ words }, { arabic: sentences }, { arabic: texts }] = await Promise.all([
      import('./arabic'),
      import('@vast-meadow/engine/arabic'),
      import('@vast-meadow/grid/arabic'),
    ])
    return { words, sentences, texts }
  },
}

// Awaited here, so that whoever imports words has them, also while it is loaded itself.
const spoken = await SPEAKERS[language]()

/** What the workshop says in its screens. */
export const words = spoken.words
/** What the engine says: problems, findings, differences, by code and facts. */
export const sentences = spoken.sentences
/** What the grid says, where the workshop says it as well. */
export const gridTexts = spoken.texts
