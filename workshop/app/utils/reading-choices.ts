import { words } from '~/words/english'
import { ENCODING_NAMES, ENCODINGS, FILE_FORMATS, FORMAT_NAMES } from '@vast-meadow/engine'

/** What a file may be read as. */
export const FORMAT_CHOICES = FILE_FORMATS.map(value => ({ value, title: FORMAT_NAMES[value] }))
export const ENCODING_CHOICES = ENCODINGS.map(value => ({ value, title: ENCODING_NAMES[value] }))
export const DELIMITER_CHOICES = [
  { value: ',', title: words.fileReading.comma },
  { value: ';', title: words.fileReading.semicolon },
  { value: '\t', title: words.fileReading.tab },
  { value: '|', title: words.fileReading.bar },
]
