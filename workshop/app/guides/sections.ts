import type { Guide } from './guides'

/** A part of a guide under one heading. */
export interface Section {
  /** `name` or `name#anchor`: unique among all. */
  readonly id: string
  readonly guide: string
  readonly heading: string
  readonly text: string
}

/** What a heading is called in an address: as the places where the guides are read otherwise have it. */
export const anchorOf = (heading: string): string =>
  heading
    .toLowerCase()
    .replaceAll(/[^\p{L}\p{N}\s_-]/gu, '')
    .trim()
    .replaceAll(/\s/g, '-')

/** The parts of a guide by its headings; what stands in code is no heading. */
export function sectionsOf({ name, title, text }: Guide): Section[] {
  const sections: { heading: string; lines: string[] }[] = []
  let inCode = false
  for (const line of text.split('\n')) {
    if (line.startsWith('```')) inCode = !inCode
    const heading = inCode ? null : /^#{1,3} (.+)$/.exec(line)?.[1]
    if (heading) sections.push({ heading, lines: [] })
    else sections.at(-1)?.lines.push(line)
  }
  return sections.map(({ heading, lines }, nth) => ({
    id: nth === 0 ? name : `${name}#${anchorOf(heading)}`,
    guide: title,
    heading: heading.replaceAll('`', ''),
    text: lines.join('\n'),
  }))
}
