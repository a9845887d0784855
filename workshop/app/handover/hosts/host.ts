import type { HandedFile } from '../hand-over'
import type { HandedGrid } from '../handed-grid'

export interface Host {
  /** What stands in the zip, the rows of a file and what is packed apart. The first file is what a reader of code wants to see. */
  files(grid: HandedGrid): readonly HandedFile[]
  /** The packages that a project installs from their tarballs. */
  readonly packages: readonly string[]
  /** Where the file of rows lies, for the project's server to give it out; null: beside the page. */
  readonly rowsFolder: string
}
