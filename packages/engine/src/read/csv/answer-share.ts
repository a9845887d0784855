import { sharedMemory } from '../../table/allocate.ts'
import { finish } from '../../work/work.ts'
import { ColumnShare } from './column-share.ts'
import { BLOCKS_DONE, KILOBYTES, type ShareQuestion, type ShareTask } from './share-task.ts'

/** A helping thread's end of reading: its columns, and how far it is. */
export class AnswerShare {
  private share = new ColumnShare()
  private state: Int32Array | null = null
  private blocks = 0
  /** It read all that it was told to. */
  private sound = false

  do(task: ShareTask): void {
    switch (task.call) {
      case 'fields-begin':
        this.share = new ColumnShare()
        this.state = task.state
        this.blocks = 0
        this.sound = true
        for (const column of task.columns) this.share.add(column)
        return
      case 'fields-take':
        this.share.take(task.block)
        this.tell(++this.blocks)
        return
      case 'fields-drop':
        this.share = new ColumnShare()
        this.state = null
        this.sound = false
    }
  }

  answer(question: ShareQuestion): unknown {
    if (!this.sound) throw new Error('A block was not taken.')
    switch (question.call) {
      case 'fields-end':
        return this.share.end(question.rows)
      case 'fields-settle':
        return question.wanted.map(wanted => finish(this.share.settle(wanted, sharedMemory)))
    }
  }

  /** A block could not be taken, and none after it is. */
  fail(): void {
    this.tell(-1)
    this.do({ call: 'fields-drop' })
  }

  private tell(blocks: number): void {
    if (!this.state) return
    Atomics.store(this.state, KILOBYTES, Math.ceil(this.share.bytes / 1024))
    Atomics.store(this.state, BLOCKS_DONE, blocks)
    Atomics.notify(this.state, BLOCKS_DONE)
  }
}
