import { answerSort } from '../order/split-sort.ts'
import type { ConditionTools } from '../flow/predicates.ts'
import { OwnPredicates } from '../flow/predicates.ts'
import type { HelperTask } from '../flow/flow.ts'
import { AnswerShare } from '../read/csv/answer-share.ts'
import type { ShareTask } from '../read/csv/share-task.ts'
import type { FromHelper, ToHelper } from './messages.ts'
import type { PatternCompiler } from '../condition/kinds/kind.ts'
import { packagedTools, type ExpressionTools } from '../expression/load-packaged.ts'
import { makeColumns } from '../source/made-up/make-table.ts'
import { sharedMemory } from '../table/allocate.ts'
import { Answer } from '../work/helper.ts'
import { CancelledError, finish, runSliced, type Work } from '../work/work.ts'
import { type ColumnIndex } from '../table/column.ts'

/** Between pauses of what is done ahead; a task is then heard within 10 ms. */
const SLICE_MS = 8

/** Does an engine's tasks in a thread of its own: one after another, and in the pauses what it shall prepare. */
export class HelperThread {
  private predicates = new OwnPredicates({ rows: 0, fields: [], columns: [] })
  private readonly tools: { pattern: PatternCompiler | null } & Pick<ConditionTools, 'own'>
  private readonly packaged: Pick<ExpressionTools, 'pattern'>
  private readonly reading = new AnswerShare()
  private last: Promise<void> = Promise.resolve()
  private waiting = 0
  private toPrepare: readonly ColumnIndex[] = []
  private preparing = false
  /** A change was not followed: until the next table every question is refused. */
  private lost = false

  /** `packaged`: where the reader of patterns is got. */
  constructor(packaged: Pick<ExpressionTools, 'pattern'> = packagedTools) {
    this.packaged = packaged
    this.tools = { pattern: null, own: {} }
  }

  /** Takes the tasks that come on a port, and says there that it does. */
  listen(tasks: MessagePort): void {
    const post = (message: FromHelper): void => tasks.postMessage(message)
    tasks.onmessage = ({ data }: MessageEvent<ToHelper>) => this.take(data, post)
    tasks.onmessageerror = () => {
      this.lost = true
      this.reading.fail()
    }
    post('listening')
  }

  private take(message: ToHelper, post: (answer: FromHelper) => void): void {
    this.waiting++
    this.last = this.last.then(async () => {
      if ('question' in message) this.answerTo(message, post)
      else if (isShareTask(message)) this.read(message)
      else await this.work(message)
      this.waiting--
      void this.prepareWhenIdle()
    })
  }

  private read(task: ShareTask): void {
    try {
      this.reading.do(task)
    } catch {
      this.reading.fail()
    }
  }

  private answerTo(
    { id, question }: Extract<ToHelper, { question: unknown }>,
    post: (answer: FromHelper) => void,
  ): void {
    try {
      const answer =
        question.call === 'make-columns'
          ? finish(makeColumns(question.recipe, question.places, sharedMemory))
          : this.reading.answer(question)
      post({ id, answer })
    } catch {
      this.reading.fail()
      post({ id, failed: true })
    }
  }

  private async work(task: HelperTask): Promise<void> {
    try {
      await this.handle(task)
    } catch {
      // Whoever asked does it alone.
      if ('answer' in task) new Answer(task.answer).refuse()
      else this.lost = true
    }
  }

  private async handle(task: HelperTask): Promise<void> {
    if (this.lost && task.call !== 'take' && task.call !== 'sort')
      throw new Error('A change was not followed.')
    switch (task.call) {
      case 'take':
        this.lost = false
        this.predicates = new OwnPredicates(task.table, this.tools, task.formats)
        this.toPrepare = []
        return
      case 'columns':
        this.predicates = this.predicates.withColumns(task.table, task.same)
        this.toPrepare = []
        return
      case 'formats':
        this.predicates.bind(task.formats)
        return
      case 'follow':
        finish(this.predicates.follow(task.edit))
        return
      case 'prepare':
        this.toPrepare = task.columns
        return
      case 'rowsWith': {
        answer(task, words => this.rowsInto(words, this.predicates.rowsWith(task.words, task.columns)))
        return
      }
      case 'rowsMeeting': {
        const { place, condition, clock, patterns } = task
        if (patterns && !this.tools.pattern && condition.parts.some(({ kind }) => kind === 'pattern'))
          this.tools.pattern = (await this.packaged.pattern()).compilePattern
        const met = this.predicates.rowsMeeting(place, condition, clock)
        answer(task, function* (words) {
          words.set((yield* met).rows)
        })
        return
      }
      case 'sort': {
        answer(task, words => answerSort(task, words))
        return
      }
    }
  }

  private *rowsInto(words: Uint32Array, rows: Work<Uint32Array>): Work<void> {
    words.set(yield* rows)
  }

  private async prepareWhenIdle(): Promise<void> {
    if (this.waiting > 0 || this.preparing || this.toPrepare.length === 0) return
    const columns = this.toPrepare
    this.preparing = true
    try {
      await runSliced(this.predicates.prepare(columns), {
        sliceMs: SLICE_MS,
        cancelled: () => this.waiting > 0,
      })
      if (this.toPrepare === columns) this.toPrepare = []
    } catch (error) {
      // Given up for a task: what is prepared stays, the rest comes in the next pause.
      if (!(error instanceof CancelledError)) this.toPrepare = []
    } finally {
      this.preparing = false
    }
    void this.prepareWhenIdle()
  }
}

const isShareTask = (task: HelperTask | ShareTask): task is ShareTask => task.call.startsWith('fields-')

/** Works an answer out in one go, unless nobody waits for it any more. */
function answer(
  task: { readonly answer: SharedArrayBuffer },
  work: (words: Uint32Array) => Work<void>,
): void {
  const room = new Answer(task.answer)
  const writing = work(room.words)
  while (!room.dropped) {
    if (writing.next().done) {
      room.give()
      return
    }
  }
}
