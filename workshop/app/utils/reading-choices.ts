import { sentences, words } from '~/words'
import { ENCODINGS, FILE_FORMATS } from '@vast-meadow/engine'

/** What a file may be read as. */
export const FORMAT_CHOICES = FILE_FORMATS.map(value => ({ value, title: sentences.formats[value] }))
export const ENCODING_CHOICES = ENCODINGS.map(value => ({ value, title: sentences.encodings[value] }))
export const DELIMITER_CHOICES = [
  { value: ',', title: words.fileReading.comma },
  { value: ';', title: words.fileReading.semicolon },
  { value: '\t', title: words.fileReading.tab },
  { value: '|', title: words.fileReading.bar },
]
