import type { OwnField } from '#setup/own-field'
import { IMPORT_FIELDS, type ImportField, type ImportMapping } from './import-fields.js'

/** Names that columns of such files bear, by field; compared in small letters without blanks and marks. */
const NAMES: Record<ImportField, readonly string[]> = {
  id: ['id', 'key', 'number', 'no', 'nr', 'ticket', 'issueid', 'externalid', 'reference'],
  title: ['title', 'summary', 'subject', 'name', 'headline'],
  description: ['description', 'body', 'text', 'details', 'notes', 'content'],
  type: ['type', 'kind', 'category', 'tracker', 'issuetype'],
  severity: ['severity', 'impact', 'howbad'],
  priority: ['priority', 'urgency', 'importance'],
  owner: ['owner', 'assignee', 'assignedto', 'responsible'],
  component: ['component', 'module', 'area', 'part', 'subsystem'],
  milestone: ['milestone', 'version', 'targetversion', 'fixversion'],
  sprint: ['sprint', 'iteration'],
  labels: ['labels', 'tags', 'keywords', 'label'],
  due: ['due', 'duedate', 'dueon', 'deadline', 'targetdate'],
  points: ['points', 'storypoints', 'effort', 'size'],
  parent: ['parent', 'parentid', 'epic', 'partof'],
  status: ['status', 'state', 'stage'],
  resolution: ['resolution', 'disposition', 'closereason'],
  reporter: ['reporter', 'reportedby', 'author', 'createdby', 'raisedby', 'submitter', 'opener'],
  updated: ['updated', 'updatedat', 'updatedon', 'lastmodified', 'modified', 'lastchanged', 'changedat'],
  attachments: ['attachments', 'attachment', 'files'],
  created: ['created', 'createdat', 'createdon', 'datecreated', 'reportedat', 'opened'],
  estimate: ['estimate', 'estimateminutes', 'originalestimate', 'timeestimate', 'estimatedhours'],
  spent: ['spent', 'spentminutes', 'timespent', 'worked', 'loggedtime', 'spenthours'],
  comments: ['comments', 'comment', 'discussion'],
  blocks: ['blocks', 'blocking'],
  'blocked by': ['blockedby', 'dependson', 'waitsfor'],
  'same as': ['sameas', 'duplicateof', 'duplicates'],
  'see also': ['seealso', 'relates', 'relatesto', 'related'],
  requirements: ['requirements', 'requirement', 'implements'],
  'found in': ['foundin', 'affectsversion', 'affectedversion', 'foundinrelease'],
  'planned for': ['plannedfor', 'plannedrelease'],
  links: ['links', 'urls', 'link', 'url'],
}

/**
 * Guesses what each column is, by its name; a field is taken by the first column that fits it best. An own field of the project is known by
 * its place in an export (`own.zone`) and by its name.
 */
export function guessMapping(columns: readonly string[], ownFields: readonly Pick<OwnField, 'fieldId' | 'name'>[] = []): ImportMapping {
  const mapping: ImportMapping = {}
  for (const { fieldId, name } of ownFields) {
    const column =
      columns.find((known) => known === `own.${fieldId}`) ?? columns.find((known) => known.toLowerCase() === name.toLowerCase())
    if (column !== undefined) mapping[column] = `own.${fieldId}`
  }
  const plain = (text: string) => text.toLowerCase().replace(/[^a-z]/g, '')
  for (const isExact of [true, false])
    for (const column of columns) {
      if (column in mapping) continue
      const name = plain(column)
      const field = IMPORT_FIELDS.find(
        (known) =>
          !Object.values(mapping).includes(known) &&
          NAMES[known].some((word) => (isExact ? word === name : word.length > 3 && name.includes(word))),
      )
      if (field) mapping[column] = field
    }
  return mapping
}

/** Columns that an export of Dystracer has, and hardly any other file has together. */
const OF_OURS = ['key', 'disposition', 'sameAs', 'seeAlso', 'requirements', 'spentMinutes']

/** Whether a file is an export of Dystracer's own: its texts are Markdown as it stands, in which a tag is a word like any other. */
export function isOwnExport(columns: readonly string[]): boolean {
  return OF_OURS.every((name) => columns.includes(name))
}
