import * as z from 'zod/mini'
import '../zod.ts'
import { migrated } from './migrate.ts'
import { arrangementSchema } from './arrangement-schema.ts'
import { bucketSchema } from '../group/bucket.ts'
import { summarySchema } from '../summary/summary.ts'
import { conditionKinds } from '../condition/kinds/index.ts'
import { batchActionSchema } from './action-schema.ts'
import { cellSchema } from './cell-schema.ts'
import { detailSchema } from './detail-schema.ts'
import { columnEditSchema, editingSchema } from '../check/edit-schema.ts'
import { DEFAULT_COLUMN_WIDTH } from './column-width.ts'
import { DEFINITION_FORMAT, DEFINITION_VERSION } from './definition-format.ts'
import { formatSchema, localeSchema } from './format-schema.ts'
import { fitSchema, lookSchema, pagesSchema, styleRuleSchema } from './look-schema.ts'
import { EXPORT_FORMATS } from '../export/formats.ts'
import { headingSchema } from './heading-schema.ts'
import { selectionSchema } from './selection-schema.ts'
import { headingProblem } from './headings.ts'
import { isRecord } from '../work/checked.ts'

export { DEFINITION_VERSION }

const KIND_NAMES = conditionKinds.map(({ name }) => name)

/** By what a column's order goes. */
const orderRuleSchema = z.object({
  by: z
    ._default(z.enum(['value', 'shown', 'expression']), 'value')
    .check(z.describe('Its values, what it shows, or what an expression comes to.')),
  expression: z
    .optional(z.string())
    .check(
      z.describe(
        'For example `seen.getMonth() * 100 + seen.getDate()`: the day of the year, whatever the year.',
      ),
    ),
  natural: z
    ._default(z.boolean(), false)
    .check(z.describe('Whether digits within texts count as the numbers they say: 9 before 10.')),
  missing: z
    ._default(z.enum(['first', 'last']), 'last')
    .check(z.describe('Where rows without a value come, in both directions.')),
})

export const columnSchema = z.object({
  key: z
    .string()
    .check(
      z.minLength(1),
      z.describe(
        'The field of the rows that the column shows. Fields in objects by their path: `place.site`.',
      ),
    ),
  title: z.string().check(z.describe('What readers see as heading.')),
  was: z
    .optional(z.array(z.string()))
    .check(z.describe('Keys that it had before: what readers arranged of these holds for it.')),
  under: z
    .optional(z.string())
    .check(z.describe('Key of the shared heading that it stands under; default: none.')),
  expression: z
    .optional(z.string())
    .check(
      z.describe(
        'Works the column out from other fields; `key` is then a name of its own. See the guide on expressions.',
      ),
    ),
  help: z.optional(z.string()).check(z.describe('A sentence about the column, shown at its heading.')),
  width: z
    ._default(z.number().check(z.minimum(24), z.maximum(2000)), DEFAULT_COLUMN_WIDTH)
    .check(z.describe('Starting width in CSS px.')),
  minWidth: z
    .optional(z.number().check(z.minimum(24), z.maximum(2000)))
    .check(z.describe('Readers cannot make it narrower.')),
  maxWidth: z
    .optional(z.number().check(z.minimum(24), z.maximum(2000)))
    .check(z.describe('Readers cannot make it wider.')),
  share: z
    .optional(z.number().check(z.positive(), z.maximum(1000)))
    .check(
      z.describe(
        'What part of the room that is left it takes beside other columns that take some, until a reader gives it a width; default: none.',
      ),
    ),
  giveWay: z
    .optional(z.int().check(z.minimum(1), z.maximum(99)))
    .check(
      z.describe(
        'Where there is no room for all columns, those with the highest number are left out first; without one, never.',
      ),
    ),
  align: z
    ._default(z.enum(['start', 'center', 'end']), 'start')
    .check(z.describe('Where values stand in their cells; numbers belong at the end.')),
  format: z._default(formatSchema, {}).check(z.describe('How values are written.')),
  wrap: z
    ._default(z.boolean(), false)
    .check(z.describe('Whether text breaks into lines, where rows are as high as their content.')),
  cell: z._default(cellSchema, { kind: 'text' }).check(z.describe('How its cells are drawn.')),
  orderable: z._default(z.boolean(), true).check(z.describe('Whether readers may order by it.')),
  order: z.prefault(orderRuleSchema, {}).check(z.describe('By what its order goes.')),
  askable: z._default(z.boolean(), true).check(z.describe('Whether readers may set a condition on it.')),
  groupable: z._default(z.boolean(), true).check(z.describe('Whether readers may group by it.')),
  movable: z._default(z.boolean(), true).check(z.describe('Whether readers may put it elsewhere.')),
  bucket: z
    .optional(bucketSchema)
    .check(
      z.describe('What falls into one group when a reader groups by it; default: by its type and values.'),
    ),
  summaries: z
    .optional(z.array(summarySchema))
    .check(z.describe('The summaries that readers may choose; default: all that make sense for its type.')),
  kinds: z
    .optional(z.array(z.enum(KIND_NAMES)))
    .check(z.describe('The kinds of condition that are offered; default: all that can ask its type.')),
  startKind: z
    .optional(z.enum(KIND_NAMES))
    .check(z.describe('The kind that its editor starts with; default: by its type.')),
  searched: z
    ._default(z.enum(['shown', 'always', 'never']), 'shown')
    .check(
      z.describe(
        'Whether the search looks in it: while it is shown, also while it is hidden, or not at all.',
      ),
    ),
  edit: z
    .optional(columnEditSchema)
    .check(z.describe('Lets its cells be changed, and says into what; without it, they cannot.')),
  painter: z
    .optional(z.string())
    .check(
      z.describe('Name of the painter among `parts.painters` that draws its cells; else the text is shown.'),
    ),
})

export const definitionSchema = z.object({
  format: z.literal(DEFINITION_FORMAT).check(z.describe('Says what the document is.')),
  version: z.literal(DEFINITION_VERSION).check(z.describe('Documents of older versions are read as well.')),
  title: z._default(z.string(), '').check(z.describe('Names the grid to assistive technology.')),
  key: z
    ._default(
      z.union([
        z.array(z.string()),
        z.pipe(
          z.string(),
          z.transform(field => [field]),
        ),
      ]),
      [],
    )
    .check(
      z.describe(
        'The field, or fields, whose values name a row. With none, rows are named by their position until they are replaced.',
      ),
    ),
  locale: z.optional(localeSchema).check(z.describe('BCP 47 tag, for words in dates and for numbers.')),
  zone: formatSchema.shape.zone.check(z.describe('IANA zone that instants are shown in; else UTC.')),
  columns: z
    .array(columnSchema)
    .check(z.describe('In the order in which they stand at first. A field is shown once.')),
  headings: z
    ._default(z.array(headingSchema), [])
    .check(
      z.describe(
        'Headings over several columns. Where readers part the columns of one, it stands again over each part.',
      ),
    ),
  searchable: z._default(z.boolean(), true).check(z.describe('Whether readers may search.')),
  severalKeys: z
    ._default(z.boolean(), true)
    .check(z.describe('Whether readers may order by several columns at once.')),
  groupable: z._default(z.boolean(), true).check(z.describe('Whether readers may group rows.')),
  movable: z._default(z.boolean(), true).check(z.describe('Whether readers may put columns elsewhere.')),
  selection: z.prefault(selectionSchema, {}).check(z.describe('How rows and cells are picked.')),
  detail: z
    .optional(detailSchema)
    .check(z.describe('Lets rows open and show more of themselves below; without it, none opens.')),
  actions: z
    ._default(z.array(batchActionSchema), [])
    .check(z.describe('What can be done with all selected rows, as buttons in the bar.')),
  editing: z
    .prefault(editingSchema, {})
    .check(z.describe('How rows are changed, where columns let them be; needs a `key`.')),
  flash: z
    ._default(z.boolean(), true)
    .check(z.describe('Whether cells show for a moment that they have changed by themselves.')),
  exports: z
    ._default(z.array(z.enum(EXPORT_FORMATS)), [])
    .check(
      z.describe(
        'Formats in which readers may take rows away as a file, by a button in the bar; none: no button.',
      ),
    ),
  print: z
    ._default(z.boolean(), false)
    .check(z.describe('Whether readers may print rows, by a button in the bar.')),
  undo: z
    ._default(z.boolean(), false)
    .check(
      z.describe('Whether the bar has buttons that take back what a reader did; the keys do so anyway.'),
    ),
  arrangements: z
    ._default(z.boolean(), false)
    .check(
      z.describe(
        'Whether the bar offers what differs from the start, arrangements by name where they can be kept, and links where there are any.',
      ),
    ),
  pinRows: z
    ._default(z.boolean(), true)
    .check(
      z.describe('Whether readers may pin rows at the head and the foot, and compare rows and columns.'),
    ),
  totals: z
    ._default(z.enum(['foot', 'head', 'none']), 'foot')
    .check(z.describe('Where the summaries of all passing rows stand, where any are arranged.')),
  map: z
    ._default(z.boolean(), true)
    .check(
      z.describe(
        'Whether a length map stands beside the scrollbar where there are several screens of rows: it shows what lies where over all lines, and a click goes there.',
      ),
    ),
  strip: z
    ._default(z.boolean(), false)
    .check(z.describe('Whether there is an asking strip under the header, where conditions are typed.')),
  density: z
    ._default(z.enum(['compact', 'normal', 'roomy']), 'normal')
    .check(z.describe('Height of the rows, and room in the bar and foot.')),
  rowHeight: z
    .optional(z.union([z.number().check(z.minimum(20), z.maximum(400)), z.literal('content')]))
    .check(z.describe('In CSS px, or as high as their content; else by the density.')),
  fit: z._default(fitSchema, { kind: 'fill' }).check(z.describe('How high the grid is.')),
  pages: z.optional(pagesSchema).check(z.describe('Shows rows in pages; without, they scroll.')),
  look: z.prefault(lookSchema, {}).check(z.describe('Type, stripes, rules and colours.')),
  styles: z
    ._default(z.array(styleRuleSchema), [])
    .check(z.describe('Styles of rows and cells by expression; later ones win.')),
  start: z
    ._default(z.partial(arrangementSchema), {})
    .check(z.describe('What the grid starts with; any part of an arrangement.')),
})

export type ColumnDefinition = z.infer<typeof columnSchema>
export type Definition = z.infer<typeof definitionSchema>
/** A definition as it is written down: everything that has a default may be left out. */
export type DefinitionInput = z.input<typeof definitionSchema>

export interface DefinitionProblem {
  readonly code: 'definition-not-valid' | 'definition-newer'
  /** Where in the document, for example `columns.2.width`. */
  readonly path: string
  readonly message: string
}

export type DefinitionResult =
  | { readonly ok: true; readonly definition: Definition }
  | { readonly ok: false; readonly problems: readonly DefinitionProblem[] }

/** Reads a definition from JSON. Says what is wrong and where instead of throwing. */
export function readDefinition(json: unknown): DefinitionResult {
  const version = isRecord(json) ? json.version : undefined
  if (typeof version === 'number' && version > DEFINITION_VERSION) {
    const message = `The definition has version ${version}; this grid reads versions up to ${DEFINITION_VERSION}.`
    return { ok: false, problems: [{ code: 'definition-newer', path: 'version', message }] }
  }
  const read = definitionSchema.safeParse(migrated(json))
  if (!read.success) {
    const problems = read.error.issues.map(issue => ({
      code: 'definition-not-valid' as const,
      path: issue.path.join('.'),
      message: issue.message,
    }))
    return { ok: false, problems }
  }
  const keys = read.data.columns.map(column => column.key)
  const doubled = keys.find((key, i) => keys.indexOf(key) !== i)
  if (doubled !== undefined) {
    const path = `columns.${keys.lastIndexOf(doubled)}.key`
    const message = `Two columns show the field "${doubled}"; a field can be shown once.`
    return { ok: false, problems: [{ code: 'definition-not-valid', path, message }] }
  }
  const headed = headingProblem(read.data)
  if (headed) return { ok: false, problems: [{ code: 'definition-not-valid', ...headed }] }
  return { ok: true, definition: read.data }
}

/** The definition's JSON Schema, for editors and other tools. */
export const definitionJsonSchema = (): object => z.toJSONSchema(definitionSchema, { io: 'input' })
