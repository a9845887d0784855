/** Colours that cells and styles are given by name, so that a palette changes all of them in one place. */
export const TONES = ['moss', 'poppy', 'straw', 'cornflower', 'heather', 'stone'] as const

export type Tone = (typeof TONES)[number]

/** One colour on light and one on dark paper, each `#rrggbb`. */
export interface ToneColours {
  readonly light: string
  readonly dark: string
}

export type Palette = Readonly<Record<Tone, ToneColours>>

/** Each is read as text on the grid's paper at a contrast of 4.5 or more. */
export const PALETTE: Palette = {
  moss: { light: '#2f6b4f', dark: '#8cc7a4' },
  poppy: { light: '#b4432a', dark: '#ee8f74' },
  straw: { light: '#8a6414', dark: '#e0bd6a' },
  cornflower: { light: '#3f639d', dark: '#8fb0e4' },
  heather: { light: '#7a5596', dark: '#c3a3dc' },
  stone: { light: '#5a655d', dark: '#a3ada3' },
}

/** Papers of the grid that tones are measured against. */
export const PAPERS = { light: '#fffefb', dark: '#171c19' } as const

function luminance(colour: string): number {
  const channels = [1, 3, 5].map(at => {
    const share = parseInt(colour.slice(at, at + 2), 16) / 255
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
  })
  return 0.2126 * channels[0] + 0.7152 * channels[1] + 0.0722 * channels[2]
}

/** The contrast of two colours written `#rrggbb`, 1 to 21, as WCAG 2 defines it. */
export function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x)
  return (light + 0.05) / (dark + 0.05)
}
