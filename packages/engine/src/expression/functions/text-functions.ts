import { fold } from '../../search/fold.ts'
import { many, scalar, type ScalarFunction } from './scalar-function.ts'
import { tagsOf } from '../../table/shown-text.ts'

const characters = (text: string): string[] => Array.from(text)

export const textFunctions: readonly ScalarFunction[] = [
  scalar(
    '.contains(part)',
    ['text', 'text'],
    'boolean',
    (a: string, b: string) => a.includes(b),
    'Whether the part stands in the text.',
  ),
  scalar(
    '.startsWith(part)',
    ['text', 'text'],
    'boolean',
    (a: string, b: string) => a.startsWith(b),
    'Whether the text starts with the part.',
  ),
  scalar(
    '.endsWith(part)',
    ['text', 'text'],
    'boolean',
    (a: string, b: string) => a.endsWith(b),
    'Whether the text ends with the part.',
  ),
  scalar('.lower()', ['text'], 'text', (a: string) => a.toLowerCase(), 'The text in small letters.'),
  scalar('.upper()', ['text'], 'text', (a: string) => a.toUpperCase(), 'The text in capital letters.'),
  scalar('.trim()', ['text'], 'text', (a: string) => a.trim(), 'The text without blanks at its ends.'),
  scalar('fold(text)', ['text'], 'text', fold, 'The text as a search sees it: case and accents folded.'),
  scalar(
    '.replace(part, other)',
    ['text', 'text', 'text'],
    'text',
    (a: string, part: string, other: string) => a.replaceAll(part, () => other),
    'The text with the other in place of each part.',
  ),
  many(
    '.substring(start, end)',
    [
      {
        takes: ['text', 'number'],
        gives: 'text',
        apply: (a: string, from: number) => cut(a, from, Infinity),
      },
      { takes: ['text', 'number', 'number'], gives: 'text', apply: cut },
    ],
    'The characters from `start`, counted from 0, up to `end`, which may be left out.',
  ),
  scalar(
    '.indexOf(part)',
    ['text', 'text'],
    'number',
    (a: string, b: string) =>
      characters(a.slice(0, Math.max(0, a.indexOf(b)))).length - (a.includes(b) ? 0 : 1),
    'Where the part first stands, counted from 0; -1 where it does not.',
    () => 0,
  ),
  many(
    'size(value)',
    [
      { takes: ['text'], gives: 'number', apply: (a: string) => characters(a).length, decimals: () => 0 },
      {
        takes: ['tags'],
        gives: 'number',
        apply: (a: string) => tagsOf(a).length,
        decimals: () => 0,
      },
    ],
    'How many characters a text has, or how many tags there are.',
  ),
]

function cut(text: string, from: number, to: number): string {
  return characters(text)
    .slice(Math.max(0, Math.trunc(from)), Math.max(0, Math.trunc(to)))
    .join('')
}
