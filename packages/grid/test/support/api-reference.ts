import { fileURLToPath } from 'node:url'
import ts from 'typescript'

const SOURCE = fileURLToPath(new URL('../../src/', import.meta.url))

/** What is documented, in its order: a heading, the file, and the type whose members are listed. */
const LISTED = [
  ['Options of `mountMeadow(host, options)`', 'kernel/options.ts', 'MeadowOptions'],
  ['Parts: what JSON cannot hold', 'kernel/options.ts', 'Parts'],
  ['Where arrangements are kept', 'kernel/options.ts', 'ArrangementStorage'],
  ['The handle', 'grid.ts', 'MeadowHandle'],
  ['Events', 'kernel/events.ts', 'MeadowEvents'],
  ['What a problem tells', 'kernel/problem.ts', 'Problem'],
  ['A painter of cells', 'painter.ts', 'CellPainter'],
  ['What a painter is given', 'painter.ts', 'PaintedCell'],
  ['What an action is told', 'painter.ts', 'ActionCall'],
  ['What an action on selected rows is told', 'painter.ts', 'BatchCall'],
  ['What an action may answer', 'painter.ts', 'ActionDone'],
  ['What the host may keep from happening', 'kernel/options.ts', 'Allow'],
  ['What is taken away as a file', 'features/exports/export-options.ts', 'ExportOptions'],
  ['What is printed', 'features/printing/printing.ts', 'PrintOptions'],
  ['A painter of details', 'painter.ts', 'DetailPainter'],
  ['What a painter of details is given', 'painter.ts', 'PaintedDetail'],
  ['What rows opened and closed tell', 'kernel/events.ts', 'OpenChange'],
  ['What a host adds to menus', 'painter.ts', 'HostMenuEntry'],
  ['What a change of the selection tells', 'kernel/events.ts', 'SelectionChange'],
] as const

/** Types as they are written, on one line. */
const plain = (text: string): string =>
  text
    .replace(/\/\*\*[^]*?\*\//g, '')
    .replace(/\s+/g, ' ')
    .replace(/^readonly /, '')
    .replace(/[;,]$/, '')
    .trim()

/** A member of a type, as it is documented. */
export interface MemberTold {
  readonly name: string
  readonly type: string
  readonly says: string
  /** As it is written. */
  readonly declared: string
}

/** Reads the members of a type of a file. */
type Members = (file: string, name: string) => readonly MemberTold[]

/** Of files of the grid's source. */
export function membersOf(): Members {
  const files = [...new Set(LISTED.map(([, file]) => SOURCE + file))]
  const program = ts.createProgram(files, {
    strict: true,
    noEmit: true,
    allowImportingTsExtensions: true,
    target: ts.ScriptTarget.ESNext,
    module: ts.ModuleKind.ESNext,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    skipLibCheck: true,
  })
  const checker = program.getTypeChecker()
  return (file, name) => {
    const source = program.getSourceFile(SOURCE + file)!
    const symbol = checker
      .getExportsOfModule(checker.getSymbolAtLocation(source)!)
      .find(one => one.name === name)!
    return checker
      .getDeclaredTypeOfSymbol(symbol)
      .getProperties()
      .map(member => {
        const declaration = member.getDeclarations()![0]
        const declared = plain(declaration.getText())
        return {
          name: member.name,
          type: declared.replace(/^[\w$]+\??: /, ''),
          says: ts.displayPartsToString(member.getDocumentationComment(checker)).replace(/\s+/g, ' '),
          declared,
        }
      })
  }
}

/** The API of the grid in Markdown, as its types and their comments have it. */
export const apiReference = (members: Members): string =>
  LISTED.map(([heading, file, name]) => {
    const rows = members(file, name).map(
      ({ declared, says }) => `- \`${declared}\`${says ? `  \n  ${says}` : ''}`,
    )
    return `## ${heading}\n\n${rows.join('\n')}`
  }).join('\n\n')
