/** Longer words stand in no number or moment; states fit into a byte. */
export const LONGEST_WORD = 200

/**
 * How far a word is found while a text is read from left to right: the state is the number of its characters that the
 * text ends with so far, and stays at `found` once all were read. (Knuth, Morris and Pratt, "Fast pattern matching in
 * strings", 1977.)
 */
export class WordStates {
  readonly found: number
  private readonly word: string
  /** By characters matched: the longest shorter beginning of the word that these end with. */
  private readonly shorter: Uint8Array

  /** `word` has 1 to `LONGEST_WORD` characters. */
  constructor(word: string) {
    this.word = word
    this.found = word.length
    this.shorter = new Uint8Array(word.length + 1)
    for (let i = 1, length = 0; i < word.length; i++) {
      while (length > 0 && word[i] !== word[length]) length = this.shorter[length]
      if (word[i] === word[length]) length++
      this.shorter[i + 1] = length
    }
  }

  /** The state after a text is read on from `state`. */
  after(state: number, text: string): number {
    for (let i = 0; i < text.length && state !== this.found; i++) {
      while (state > 0 && text[i] !== this.word[state]) state = this.shorter[state]
      if (text[i] === this.word[state]) state++
    }
    return state
  }
}

/**
 * Where each text of a list leads from each state: the state after the text numbered `i` is read on from state `s`
 * stands at `s * count + i`. Most of a table's values are made of few texts.
 */
export function textSteps(states: WordStates, count: number, textOf: (index: number) => string): Uint8Array {
  const texts = Array.from({ length: count }, (_, i) => textOf(i))
  const steps = new Uint8Array((states.found + 1) * count)
  for (let state = 0; state <= states.found; state++)
    for (let i = 0; i < count; i++) steps[state * count + i] = states.after(state, texts[i])
  return steps
}
