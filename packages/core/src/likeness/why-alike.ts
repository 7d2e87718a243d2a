import type { LikenessHit } from './likeness-index.js'

const SHARED_SHOWN = 4
const RELATED_SHOWN = 2
const said = (words: readonly string[]) => words.map((word) => `“${word}”`).join(', ')

/** Why a text is like another, in words; an empty text where nothing is to be said for it. */
export function whyAlike({ sharedWords, relatedWords, requirement }: Omit<LikenessHit, 'id' | 'score' | 'otherWords'>): string {
  return [
    ...(sharedWords.length > 0 ? [`both say ${said(sharedWords.slice(0, SHARED_SHOWN))}`] : []),
    ...relatedWords.slice(0, RELATED_SHOWN).map(([here, there]) => `“${here}” is near “${there}”`),
    ...(requirement === null ? [] : [`both concern ${requirement}`]),
  ].join('; ')
}

/**
 * What its title says that has no answer in the text being written: perhaps it is another thing
 * there. Empty where it says nothing more.
 */
export function whatDiffers({ otherWords }: Pick<LikenessHit, 'otherWords'>): string {
  return otherWords.length === 0 ? '' : `there also ${said(otherWords)}`
}
