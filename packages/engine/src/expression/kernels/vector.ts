/** Rows that are worked out at a time: what the vectors of an expression hold stays in the nearest caches. */
export const CHUNK = 4096

/** Numbers, and what is kept as such; NaN: missing. */
export interface NumberVector {
  readonly kind: 'number'
  /** May be a window into a column: it changes from chunk to chunk and is not written to by others. */
  values: Float64Array
}

/** 0: no, 1: yes, 2: missing. */
export interface TruthVector {
  readonly kind: 'truth'
  readonly values: Uint8Array
}

/** Texts and tags by their number in a dictionary. */
export interface TextVector {
  readonly kind: 'text'
  readonly codes: Uint32Array
  readonly dictionary: Dictionary
}

export const NO_TEXT = 0xffffffff
export const NO_TRUTH = 2

/** What codes stand for. */
export interface Dictionary {
  /** Codes are below this; Infinity: they stand for rows, and nothing is to be remembered by them. */
  readonly bound: number
  textOf(code: number): string
}

export type Vector = NumberVector | TruthVector | TextVector

/** A part of an expression that fills its vector for rows `from` up to `to`, at most `CHUNK` of them. */
export interface Kernel<V extends Vector = Vector> {
  readonly out: V
  /** The vector holds the same in every row and was filled when the kernel was made. */
  readonly constant?: boolean
  run(from: number, to: number): void
}

/** Whether a kernel fills vectors of a kind; the checker has made sure of it where one is asked for. */
export const fills = <Kind extends Vector['kind']>(
  kernel: Kernel,
  kind: Kind,
): kernel is Kernel<Extract<Vector, { readonly kind: Kind }>> => kernel.out.kind === kind

/** A kernel that fills vectors of a kind. */
export function filling<Kind extends Vector['kind']>(
  kernel: Kernel,
  kind: Kind,
): Kernel<Extract<Vector, { readonly kind: Kind }>> {
  if (!fills(kernel, kind)) throw new TypeError(`${kernel.out.kind} stands where ${kind} was checked for.`)
  return kernel
}

export const numberVector = (): NumberVector => ({ kind: 'number', values: new Float64Array(CHUNK) })
export const truthVector = (): TruthVector => ({ kind: 'truth', values: new Uint8Array(CHUNK) })
export const textVector = (dictionary: Dictionary): TextVector => ({
  kind: 'text',
  codes: new Uint32Array(CHUNK),
  dictionary,
})

/** Texts that come one after another and may recur; at most `bound` different ones. */
export class GrowingDictionary implements Dictionary {
  readonly bound: number
  private readonly codes = new Map<string, number>()
  private readonly texts: string[] = []

  constructor(bound: number) {
    this.bound = bound
  }

  textOf(code: number): string {
    return this.texts[code]
  }

  codeOf(text: string): number {
    let code = this.codes.get(text)
    if (code === undefined) {
      code = this.texts.length
      this.codes.set(text, code)
      this.texts.push(text)
    }
    return code
  }
}

/** Texts of one chunk: code `i` is that of its row `i`. */
export class ChunkTexts implements Dictionary {
  readonly bound = Infinity
  readonly texts = new Array<string>(CHUNK).fill('')

  textOf(code: number): string {
    return this.texts[code]
  }
}
