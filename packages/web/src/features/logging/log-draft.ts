import { splitWords } from '#shared/lib/format'
import { keepDraft, readDraft } from '#shared/lib/drafts'
import { LINE_FIELDS, type LineField } from '@dystracer/core/setup/item-fields'
import type { LogItem } from '@dystracer/core/items/wire'
import type { OwnValue } from '@dystracer/core/setup/own-field'
import { parseDurationMinutes } from '@dystracer/core/text/duration'

/** The typed lines among the fields, by name. */
type Lines = Record<LineField, string>
const EMPTY_LINES = Object.fromEntries(LINE_FIELDS.map((name) => [name, ''])) as Lines

/** What the dialog for logging holds; texts as typed, so that a draft survives as it stands. */
export interface LogDraft extends Lines {
  title: string
  type: string
  project: string
  severity: string
  priority: string
  component: string
  requirement: string
  ownerId: string
  points: string
  dueOn: string
  estimate: string
  labels: string
  parent: string
  isConfidential: boolean
  ownValues: Record<string, OwnValue>
  description: string
}
export const EMPTY_DRAFT: LogDraft = {
  ...EMPTY_LINES,
  title: '',
  type: 'defect',
  project: '',
  severity: '',
  priority: '',
  component: '',
  requirement: '',
  ownerId: '',
  points: '',
  dueOn: '',
  estimate: '',
  labels: '',
  parent: '',
  isConfidential: false,
  ownValues: {},
  description: '',
}
const DRAFT = 'log'

export function storedDraft(): LogDraft {
  try {
    return { ...EMPTY_DRAFT, ...(JSON.parse(readDraft(DRAFT) || '{}') as Partial<LogDraft>) }
  } catch (error) {
    if (error instanceof SyntaxError) return EMPTY_DRAFT
    throw error
  }
}
export function storeDraft(draft: LogDraft | null): void {
  keepDraft(DRAFT, draft === null ? '' : JSON.stringify(draft))
}

/** The next draft after one was logged with "keep going": project, type and milestone stay. */
export function keepGoing(draft: LogDraft): LogDraft {
  return { ...EMPTY_DRAFT, project: draft.project, type: draft.type, milestone: draft.milestone }
}

export function toLogItem(draft: LogDraft, project: string): LogItem {
  const orNull = (text: string) => text.trim() || null
  const estimate = draft.estimate.trim() === '' ? null : parseDurationMinutes(draft.estimate)
  return {
    ...(Object.fromEntries(LINE_FIELDS.map((name) => [name, orNull(draft[name])])) as Record<LineField, string | null>),
    title: draft.title,
    type: draft.type,
    project,
    description: draft.description,
    severity: draft.severity ? Number(draft.severity) : null,
    priority: (orNull(draft.priority) ?? null) as LogItem['priority'],
    component: orNull(draft.component),
    requirement: orNull(draft.requirement),
    ownerId: orNull(draft.ownerId),
    points: draft.points.trim() === '' ? null : Number(draft.points),
    dueOn: orNull(draft.dueOn),
    estimateMinutes: estimate,
    labels: [...new Set(splitWords(draft.labels))],
    parent: orNull(draft.parent.toUpperCase()),
    isConfidential: draft.isConfidential,
    ownValues: draft.ownValues,
  }
}
