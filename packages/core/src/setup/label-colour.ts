/**
 * Colours for labels' underlines. Each stands out from the light and the dark grounds, the selection's too, by at least 3:1 (WCAG 2.2,
 * 1.4.11), which a test recomputes.
 */
export const LABEL_COLOURS = {
  rust: '#D2673F',
  blue: '#4D8BBF',
  sand: '#AC7E1C',
  teal: '#319583',
  violet: '#9978BD',
  moss: '#7D8E2B',
  rose: '#C4698E',
  slate: '#7B8891',
} as const
/** The name of a label's colour. */
export type LabelColour = keyof typeof LABEL_COLOURS
/** The colours that a label can have, as offered. */
export const LABEL_COLOUR_NAMES = Object.keys(LABEL_COLOURS) as LabelColour[]

/** The colour for a new label: the one that the fewest of the project's labels wear, the first of them in the palette's order. */
export function colourForNewLabel(worn: readonly LabelColour[]): LabelColour {
  let best: LabelColour = 'rust'
  let fewest = Number.POSITIVE_INFINITY
  for (const name of LABEL_COLOUR_NAMES) {
    const count = worn.filter((colour) => colour === name).length
    if (count < fewest) {
      best = name
      fewest = count
    }
  }
  return best
}

/** Contrast of two sRGB colours `#rrggbb`, from 1 to 21 (WCAG 2.2, relative luminance). */
export function contrastOf(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number]
  return (light + 0.05) / (dark + 0.05)
}

function luminance(hex: string): number {
  const [red, green, blue] = [1, 3, 5].map((at) => {
    const share = Number.parseInt(hex.slice(at, at + 2), 16) / 255
    return share <= 0.03928 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
  }) as [number, number, number]
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue
}
