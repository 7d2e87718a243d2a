import { isMatch } from 'date-fns/isMatch'
import { zDay } from '#basics/wire'
import { z } from 'zod'
import { OWN_FIELD_KINDS } from './field-use.js'

/** What a project's own field holds. */
export const zOwnFieldKind = z.enum(OWN_FIELD_KINDS)

/** A field that a project added: its kind says what values it takes. */
export const zOwnField = z.strictObject({
  fieldId: z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, 'Small letters, digits and hyphens, a letter first'),
  name: z.string().trim().min(1).max(60),
  kind: zOwnFieldKind,
  /** For one-of and several-of: the values in order. */
  choices: z.array(z.string().trim().min(1).max(60)).max(50).default([]),
  /** The types that show it; empty for all. */
  types: z.array(z.string().max(30)).max(20).default([]),
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/i)
    .nullable()
    .default(null),
  position: z.number().int().min(0).max(1000).default(0),
})
export type OwnField = z.infer<typeof zOwnField>
/** An own field where fields of items stand side by side (columns, groups, boards): `own.` and its id. */
export type OwnPlace = `own.${string}`
/** The place of an own field, as an address and a request name it. */
export const zOwnPlace = z.templateLiteral(['own.', z.string().regex(/^[a-z][a-z0-9-]{0,39}$/)])

/** The own field that stands at a place; null for a field that every item has. */
export function ownFieldAt(place: string): string | null {
  return place.startsWith('own.') ? place.slice('own.'.length) : null
}

/** A place that is named in a text: one of the fixed ones, or that of an own field; undefined for neither. */
export function placeNamed<Fixed extends string>(fixed: readonly Fixed[], text: string | null): Fixed | OwnPlace | undefined {
  const known = fixed.find((place) => place === text)
  return known ?? zOwnPlace.safeParse(text).data
}

/** The value of an own field; which of these it is follows from the field's kind. */
export type OwnValue = string | number | string[] | null

/**
 * Why a value does not fit its field, in words for the person who typed it; null when it fits. Null and empty values always fit: they clear
 * the field.
 */
export function whyNotOwnValue(
  field: Pick<OwnField, 'kind' | 'choices'>,
  value: OwnValue,
  isPerson: (personId: string) => boolean,
): string | null {
  if (value === null || value === '') return null
  switch (field.kind) {
    case 'text':
      return typeof value === 'string' && value.length <= 2000 ? null : 'Text of at most 2,000 characters'
    case 'number':
      return typeof value === 'number' && Number.isFinite(value) ? null : 'A number'
    case 'date':
      return typeof value === 'string' && isDay(value) ? null : 'A day such as 2026-11-24'
    case 'one-of':
      return typeof value === 'string' && field.choices.includes(value) ? null : `One of ${field.choices.join(', ')}`
    case 'several-of':
      return Array.isArray(value) && value.every((entry) => field.choices.includes(entry)) ? null : `Some of ${field.choices.join(', ')}`
    case 'person':
      return typeof value === 'string' && isPerson(value) ? null : 'A person of this project'
    case 'link':
      return typeof value === 'string' && isSafeLink(value) ? null : 'An address that begins with https:// or http://'
  }
}

/** A day that the calendar has. */
export function isDay(text: string): boolean {
  return /^\d{4}-\d{2}-\d{2}$/.test(text) && isMatch(text, 'yyyy-MM-dd')
}

/** Only addresses that a browser opens as a page: never scripts, data or files. */
export function isSafeLink(text: string): boolean {
  return /^https?:\/\/[^\s/$.?#].\S*$/i.test(text) && text.length <= 2000
}

/** A day that the calendar has. */
export const zRealDay = zDay.refine(isDay, 'The calendar has no such day')
