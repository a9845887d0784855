/** A block of cells as a spreadsheet puts it on the clipboard, or any other text of rows, as a file. */
export function fileOfText(text: string): File {
  const first = text.trimStart()[0]
  const json = first === '{' || first === '['
  const name = json ? 'pasted.json' : text.includes('\t') ? 'pasted.tsv' : 'pasted.csv'
  return new File([text], name, { type: 'text/plain' })
}
