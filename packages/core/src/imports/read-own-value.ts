import { type OwnField, type OwnValue, whyNotOwnValue } from '#setup/own-field'
import { listIn, toText } from './read-cells.js'

/** How words of a file are understood where a field asks for more than text. */
export interface OwnReading {
  dayOf: (text: string) => string | null
  personOf: (text: string) => string | null
}

/**
 * What a cell says for one of the project's own fields: null where it says nothing, undefined where it says what the field cannot hold.
 * Choices are found whatever their case; several stand between commas, semicolons or bars, or in a list.
 */
export function readOwnValue(
  field: Pick<OwnField, 'kind' | 'choices'>,
  cell: unknown,
  { dayOf, personOf }: OwnReading,
): OwnValue | undefined {
  const text = toText(cell)
  if (text === '') return null
  const choiceOf = (word: string) => field.choices.find((choice) => choice.toLowerCase() === word.toLowerCase())
  const found = ((): OwnValue | undefined => {
    switch (field.kind) {
      case 'number':
        return Number(text.replace(',', '.'))
      case 'date':
        return dayOf(text) ?? undefined
      case 'one-of':
        return choiceOf(text)
      case 'several-of': {
        const listed = listIn(cell)
        const words = listed.length === 1 ? splitWords(toText(listed[0]), field.choices) : listed.map(toText)
        const values = words.map(choiceOf)
        return values.includes(undefined) ? undefined : [...new Set(values as string[])]
      }
      case 'person':
        return personOf(text) ?? undefined
      case 'text':
      case 'link':
        return text
    }
  })()
  return found === undefined || whyNotOwnValue(field, found, () => true) !== null ? undefined : found
}

/** Words between marks; a choice that bears such a mark itself is one word. */
function splitWords(text: string, choices: readonly string[]): string[] {
  if (choices.some((choice) => choice.toLowerCase() === text.toLowerCase())) return [text]
  return text
    .split(/[,;|]/)
    .map((word) => word.trim())
    .filter(Boolean)
}
