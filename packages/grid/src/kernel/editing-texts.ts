import { checkProblemText } from '@vast-meadow/engine/editing'

const rows = (shown: string, count: number): string => (count === 1 ? '1 row' : `${shown} rows`)
const cells = (shown: string, count: number): string => (count === 1 ? '1 cell' : `${shown} cells`)

/** What a grid says about changes of its rows; a host replaces what it wants by `texts.editing`. */
export const editingTexts = {
  problem: checkProblemText,
  editCell: (title: string, row: string): string => (row ? `${title} of ${row}` : title),
  was: (text: string): string => (text === '' ? 'Empty before' : `Before: ${text}`),
  savedMeanwhile: (text: string): string =>
    text === '' ? 'Emptied by somebody else meanwhile' : `Changed by somebody else meanwhile: ${text}`,
  goneMeanwhile: 'Somebody else has deleted this row',
  refused: (reason: string): string => `Not saved: ${reason}`,
  toBeDeleted: 'Is deleted when you save',
  newRowMark: 'New, not saved yet',
  rowStays: 'Goes where it belongs when you leave it',
  edit: 'Change this cell',
  clear: 'Empty these cells',
  fillDown: 'Fill down from the first',
  sameInSelected: (shown: string, count: number): string => `Same value in ${rows(shown, count)} selected`,
  replaceIn: (title: string): string => `Replace in ${title} …`,
  newRow: 'New row',
  copyRow: 'New row like this one',
  deleteRow: 'Delete this row',
  deleteSelected: (shown: string, count: number): string => `Delete ${rows(shown, count)} selected`,
  keepRow: 'Do not delete this row',
  takeBack: 'Take back',
  takeBackCell: 'Take back this change',
  keepMine: 'Keep mine',
  takeTheirs: 'Take theirs',
  askDelete: (names: string, more: number): string =>
    more > 0
      ? `Delete ${names} and ${rows(String(more), more)} more? They go when you save.`
      : `Delete ${names}? It goes when you save.`,
  delete: 'Delete',
  changes: (shown: string, count: number): string => (count === 1 ? '1 change' : `${shown} changes`),
  notValid: (shown: string, _count: number): string => `${shown} not right`,
  conflicts: (shown: string, count: number): string => (count === 1 ? '1 conflict' : `${shown} conflicts`),
  refusedCount: (shown: string, _count: number): string => `${shown} refused`,
  save: 'Save all',
  saving: 'Saving …',
  discard: 'Discard all',
  show: 'List',
  close: 'Close',
  askDiscard: (shown: string, count: number): string =>
    `Discard ${count === 1 ? '1 change' : `${shown} changes`}? What was typed is lost.`,
  listTitle: 'Not saved yet',
  listMore: (shown: string, count: number): string => `and ${rows(shown, count)} more`,
  newRowNamed: 'New row',
  deletion: 'deleted',
  saved: (shown: string, count: number): string => `${rows(shown, count)} saved`,
  savedSome: (saved: string, left: string, count: number): string =>
    `${rows(saved, count)} saved, ${left} not`,
  notSaved: (reason: string): string => `Nothing was saved: ${reason}`,
  answerNotRead: (where: string): string => `The answer to the save could not be read at ${where}.`,
  noKeyForNew: 'The answer names no key for the new row.',
  nothingToSave: 'There is nothing to save.',
  nothingRight: (shown: string, _count: number): string => `Nothing can be saved yet: ${shown} not right.`,
  cannotEdit: {
    column: 'This column cannot be changed.',
    row: 'This cell cannot be changed in this row.',
    key: 'The key names the row, so it stays.',
    service: 'The service that holds the rows does not let this be changed.',
    removed: 'This row is to be deleted.',
    saving: 'This row is being saved.',
    group: 'Only cells of rows can be changed.',
  },
  typed: (column: string, text: string): string =>
    text === '' ? `${column} emptied` : `${column} is ${text}`,
  pasted: (shown: string, count: number): string => `${cells(shown, count)} pasted`,
  pastedSome: (shown: string, left: string, count: number): string =>
    `${cells(shown, count)} pasted; ${left} cannot be changed`,
  cleared: (shown: string, count: number): string => `${cells(shown, count)} emptied`,
  filled: (shown: string, count: number): string => `${cells(shown, count)} filled`,
  replaced: (shown: string, count: number): string => `${cells(shown, count)} replaced`,
  moreRows: (shown: string, count: number): string =>
    `${rows(shown, count)} were pasted beyond the last one.`,
  addThem: 'Add as new rows',
  added: 'New row',
  deleted: (shown: string, count: number): string => `${rows(shown, count)} to be deleted`,
  rowWentTo: (line: string): string => `The row you changed went to row ${line}.`,
  rowHeldBack: 'The row you changed does not pass the conditions any more.',
  goThere: 'Go there',
  undo: 'Undo',
  notKept: (reason: string): string => `Unsaved changes are not kept for the next visit: ${reason}`,
  keptNotRead: (reason: string): string => `Unsaved changes of before could not be read: ${reason}`,
  leftOut: (fields: string): string => `Some unsaved changes were left out: ${fields} is not there any more.`,
  choices: 'Choices',
  noChoice: 'None of the choices holds this.',
  openCalendar: 'Pick a day',
  replaceThis: 'Find',
  replaceBy: 'Put instead',
  replaceWhole: 'Only whole cells',
  replaceCase: 'Mind capitals',
  replaceRows: 'In',
  replaceWhich: {
    passing: (shown: string, count: number): string => `all ${rows(shown, count)} that pass`,
    selected: (shown: string, count: number): string => `${rows(shown, count)} selected`,
  },
  replaceNow: 'Replace',
  replacePreview: (shown: string, count: number): string => `${cells(shown, count)} will change.`,
  replaceNone: 'No cell holds this.',
  replaceWrong: (shown: string, _count: number): string => `${shown} will not be right and stay unsaved.`,
  replaceFixed: (shown: string, _count: number): string => `${shown} cannot be changed.`,
  replaceTooMany: (shown: string, most: string, count: number): string =>
    `${cells(shown, count)} hold this; ${most} can be replaced at a time. Ask for fewer rows.`,
  replaceMore: (shown: string, _count: number): string => `and ${shown} more`,
  nothingThere: 'nothing',
}

export type EditingTexts = typeof editingTexts
