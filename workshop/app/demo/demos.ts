import { words } from '~/words'
import type { DefinitionInput, RecipeInput } from '@vast-meadow/engine'
import surveyDefinition from '../../../demo/survey-sightings.grid.json'
import surveyRecipe from '../../../demo/survey-sightings.recipe.json'
import seedDefinition from '../../../demo/seed-library.grid.json'
import seedLibraryUrl from '../../../demo/seed-library.csv?url'
import type { Origin } from '~/storage/saved-grid'
import { soilProbes } from './soil-probes'

/** A grid that ships with the workshop: where its rows come from, and its definition where that is more than the data says. */
export interface Demo {
  readonly name: string
  readonly title: string
  readonly about: string
  readonly rows: number
  readonly columns: number
  /** Other sizes that can be chosen. */
  readonly sizes: readonly number[]
  open(rows: number): Promise<{ origin: Origin; definition: DefinitionInput | null; file: Blob | null }>
}

const seedGrid = seedDefinition as DefinitionInput
const survey = surveyRecipe as RecipeInput
const surveyGrid = surveyDefinition as DefinitionInput

/** The same columns over rows of a server, some of which can be changed there. */
const EDITS: Readonly<Record<string, DefinitionInput['columns'][number]['edit']>> = {
  sighting: { whole: true, least: 0, required: true },
  state: { choices: ['confirmed', 'doubtful', 'seen', 'withdrawn'], onlyChoices: true },
  cover: { least: 0, most: 100 },
  verified: {},
  remark: { longest: 200 },
}
const sightingsGrid: DefinitionInput = {
  ...surveyGrid,
  title: words.demos.sightingsOnTheServer,
  editing: { newRows: 'head', remove: true },
  columns: surveyGrid.columns.map(column => ({ ...column, edit: EDITS[column.key] })),
}

export const demos: readonly Demo[] = [
  {
    name: 'survey',
    title: words.demos.surveySightings,
    about: words.demos.aMadeUpNatureSurvey,
    rows: 1_000_000,
    columns: survey.columns.length,
    sizes: [10_000, 100_000, 1_000_000, 5_000_000],
    open: rows =>
      Promise.resolve({
        origin: { kind: 'recipe', recipe: { ...survey, rows }, computed: false, latencyMs: 0 },
        definition: surveyGrid,
        file: null,
      }),
  },
  {
    name: 'sightings',
    title: words.demos.sightingsOnTheServer,
    about: words.demos.heldByADatabase,
    rows: 20_000_000,
    columns: survey.columns.length,
    sizes: [20_000_000],
    open: () =>
      Promise.resolve({
        origin: { kind: 'service', address: '/api/service', rows: 'sightings', near: { more: true } },
        definition: sightingsGrid,
        file: null,
      }),
  },
  {
    name: 'probes',
    title: words.demos.soilProbes,
    about: words.demos.fewRowsByComparisonBut,
    rows: 20_000,
    columns: 1000,
    sizes: [20_000],
    open: rows => {
      const { recipe, definition } = soilProbes(rows)
      return Promise.resolve({
        origin: { kind: 'recipe', recipe, computed: false, latencyMs: 0 },
        definition,
        file: null,
      })
    },
  },
  {
    name: 'seeds',
    title: words.demos.seedLibrary,
    about: words.demos.aCsvFileDrawnWith,
    rows: 1200,
    columns: 13,
    sizes: [1200],
    open: async () => {
      const response = await fetch(seedLibraryUrl)
      const file = await response.blob()
      return {
        origin: { kind: 'file', name: 'seed-library.csv', bytes: file.size, kept: true },
        definition: seedGrid,
        file,
      }
    },
  },
  {
    name: 'ten-million',
    title: words.demos.tenMillion,
    about: words.demos.cellsComputedFromTheRows,
    rows: 10_000_000,
    columns: survey.columns.length,
    sizes: [10_000_000],
    open: rows =>
      Promise.resolve({
        origin: { kind: 'recipe', recipe: { ...survey, rows }, computed: true, latencyMs: 0 },
        // What is computed from other columns is beyond cells that are made when they are looked at.
        definition: {
          ...surveyGrid,
          title: words.demos.tenMillion,
          key: [],
          columns: surveyGrid.columns.filter(({ expression }) => expression === undefined),
          styles: [],
          start: { ...surveyGrid.start, groups: [], summaries: {} },
        },
        file: null,
      }),
  },
]
