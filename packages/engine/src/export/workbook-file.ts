// What writes workbooks, for `load-workbook.ts`.
export { packNow, packText } from './packed-part.ts'
export { MOST_SHEET_ROWS } from './sheet-writer.ts'
export { styleNumbers, workbookFiles } from './workbook.ts'
export { zipStream } from './zip-stream.ts'
