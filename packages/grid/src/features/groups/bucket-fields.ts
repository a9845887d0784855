import type { Bucket, BucketKind, FieldType } from '@vast-meadow/engine'
import { make, makeOption } from '../../kernel/dom.ts'
import type { Texts } from '../../kernel/texts.ts'

const PARTS = ['year', 'quarter', 'month', 'week', 'weekday', 'day', 'hour'] as const

/** A bucket of a kind to begin with. */
function begun(kind: BucketKind, usual: Bucket): Bucket {
  if (usual.by === kind) return usual
  switch (kind) {
    case 'range':
      return { by: 'range', step: 10, origin: 0 }
    case 'breaks':
      return { by: 'breaks', at: [0] }
    case 'parts':
      return { by: 'parts', count: 4 }
    case 'date':
      return { by: 'date', part: 'month', every: false }
    case 'letters':
      return { by: 'letters', count: 1 }
    case 'expression':
      return { by: 'expression', expression: '' }
    default:
      return { by: kind }
  }
}

/** What falls into one group: the kind of bucket, and the fields that it needs. Each change that can be read is told. */
export class BucketFields {
  readonly element = make('div', 'fields')
  private readonly type: FieldType
  private readonly kinds: readonly BucketKind[]
  private readonly texts: Texts
  /** What another kind begins with, where it is of that kind. */
  usual: Bucket
  private readonly changed: (bucket: Bucket) => void
  private bucket: Bucket

  constructor(
    bucket: Bucket,
    { type, kinds }: { readonly type: FieldType; readonly kinds: readonly BucketKind[] },
    texts: Texts,
    changed: (bucket: Bucket) => void,
  ) {
    this.bucket = bucket
    this.usual = bucket
    this.type = type
    this.kinds = kinds
    this.texts = texts
    this.changed = changed
    this.draw()
  }

  private draw(): void {
    const { texts, element } = this
    element.replaceChildren()
    const { kinds } = this
    const pick = this.field(texts.bucket, make('select'))
    for (const kind of kinds) makeOption(pick, kind, texts.buckets[kind])
    pick.value = this.bucket.by
    pick.onchange = () => {
      const kind = kinds.find(one => one === pick.value)
      if (!kind) return
      this.bucket = begun(kind, this.usual)
      this.draw()
      this.element.querySelector('select')?.focus()
      if (kind !== 'expression') this.changed(this.bucket)
    }
    this.drawMore()
  }

  private drawMore(): void {
    const { bucket, texts } = this
    switch (bucket.by) {
      case 'range':
        this.number(texts.bucketStep, bucket.step, step => step > 0 && { ...bucket, step })
        this.number(texts.bucketOrigin, bucket.origin, origin => ({ ...bucket, origin }))
        return
      case 'breaks':
        this.text(texts.bucketBreaks, bucket.at.join(', '), typed => {
          const at = typed
            .split(/[\s,;]+/)
            .filter(Boolean)
            .map(Number)
          const ascends = at.every((value, i) => Number.isFinite(value) && (i === 0 || value > at[i - 1]))
          return at.length > 0 && ascends && { by: 'breaks', at }
        })
        return
      case 'parts':
        this.number(texts.bucketCount, bucket.count, count => isCount(count, 1000) && { ...bucket, count })
        return
      case 'letters':
        this.number(texts.bucketLetters, bucket.count, count => isCount(count, 20) && { ...bucket, count })
        return
      case 'expression':
        this.text(
          texts.bucketExpression,
          bucket.expression,
          expression => expression.trim() !== '' && { by: 'expression', expression },
        )
        return
      case 'date':
        this.date(bucket)
    }
  }

  private date(bucket: Extract<Bucket, { by: 'date' }>): void {
    const { texts } = this
    const pick = this.field(texts.bucketPart, make('select'))
    for (const part of this.type === 'time' ? (['hour'] as const) : PARTS)
      makeOption(pick, part, texts.dateParts[part])
    pick.value = bucket.part
    const line = make('label', 'check-line', this.element)
    const every = make('input', '', line)
    every.type = 'checkbox'
    every.checked = bucket.every
    line.append(` ${texts.bucketEvery}`)
    const tell = (): void => {
      const part = PARTS.find(one => one === pick.value)
      if (!part) return
      line.hidden = pick.value === 'year' || pick.value === 'weekday'
      this.tell({ by: 'date', part, every: every.checked && !line.hidden })
    }
    line.hidden = bucket.part === 'year' || bucket.part === 'weekday'
    pick.onchange = every.onchange = tell
  }

  private number(label: string, value: number, read: (value: number) => Bucket | false): void {
    const input = this.field(label, make('input'))
    input.inputMode = 'decimal'
    input.value = String(value)
    this.reads(input, typed => typed.trim() !== '' && Number.isFinite(Number(typed)) && read(Number(typed)))
  }

  private text(label: string, value: string, read: (typed: string) => Bucket | false): void {
    const input = this.field(label, make('input'))
    input.value = value
    input.spellcheck = false
    this.reads(input, read)
  }

  private reads(input: HTMLInputElement, read: (typed: string) => Bucket | false): void {
    input.onchange = () => {
      const bucket = read(input.value)
      input.ariaInvalid = String(bucket === false)
      if (bucket) this.tell(bucket)
    }
  }

  private tell(bucket: Bucket): void {
    this.bucket = bucket
    this.changed(bucket)
  }

  private field<T extends HTMLElement>(label: string, control: T): T {
    const line = make('label', 'field', this.element)
    make('span', '', line).textContent = label
    line.append(control)
    return control
  }
}

const isCount = (count: number, most: number): boolean =>
  Number.isInteger(count) && count >= 1 && count <= most
